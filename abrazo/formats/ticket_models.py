"""What `abrazo reckon` reads, as strict models: unknown fields are refused, null, [] and {} mean left out."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, WithJsonSchema, model_validator

from abrazo.core.errors import Refused
from abrazo.core.money import read_decimal


def _no_decimal_refusal(value: object) -> object:
    """Decimal strings are checked here so that the refusal names the field."""
    try:
        read_decimal(value)
    except Refused as refusal:
        raise ValueError(refusal) from None
    return value


Decimal = Annotated[
    str, BeforeValidator(_no_decimal_refusal), WithJsonSchema({"type": "string", "pattern": r"^-?[0-9]+(\.[0-9]+)?$"})
]
Id = Annotated[str, Field(min_length=1)]
TicketSnapshot = Annotated[int, Field(strict=True)]


class Strict(BaseModel):
    """Refuses unknown fields; takes null, [] and {} as left out."""

    model_config = ConfigDict(extra="forbid", strict=True)

    @model_validator(mode="before")
    @classmethod
    def _leave_out(cls, data: Any) -> Any:
        if not isinstance(data, dict) or all(data.values()):
            return data
        names = cls.model_fields
        return {key: value for key, value in data.items() if key not in names or not cls._empty(key, value)}

    @classmethod
    def _empty(cls, key: str, value: object) -> bool:
        return value is None or (isinstance(value, (list, dict)) and not value)


# An empty list, made anew each time: a default that is copied costs as much as checking a line.
NONE_GIVEN: Any = Field(default_factory=list, json_schema_extra={"default": []})


class PartIn(Strict):
    """A part of a tax, as it is read."""

    rate: Decimal
    label: str | None = None


class TaxIn(Strict):
    """A tax, as it is read."""

    id: Id
    rate: Decimal
    label: str | None = None
    parts: list[PartIn] = NONE_GIVEN


class GuestIn(Strict):
    """A guest, as it is read."""

    id: Id
    name: str | None = None


class ChoiceIn(Strict):
    """A choice of a line, as it is read."""

    price: Decimal
    label: str | None = None
    quantity: Annotated[TicketSnapshot, Field(ge=1)] = 1


class AdjustmentIn(Strict):
    """A discount or surcharge of a line, as it is read."""

    kind: Literal["benefit", "discount", "series", "surcharge"]
    percent: Decimal | None = None
    amount: Decimal | None = None
    reason: str | None = None


def _without_nulls(value: object) -> object:
    return {key: weight for key, weight in value.items() if weight is not None} if isinstance(value, dict) else value


class LineIn(Strict):
    """A line, as it is read."""

    id: Id
    unit_price: Decimal
    label: str | None = None
    quantity: Decimal = "1"
    tax: str | None = None
    staff: str | None = None
    choices: list[ChoiceIn] = NONE_GIVEN
    adjustments: list[AdjustmentIn] = NONE_GIVEN
    shares: Annotated[dict[str, Annotated[TicketSnapshot, Field(ge=0)]], BeforeValidator(_without_nulls)] = Field(
        default_factory=dict, json_schema_extra={"default": {}}
    )
    discountable: bool = True


class DiscountIn(Strict):
    """A discount of the ticket, as it is read."""

    percent: Decimal | None = None
    amount: Decimal | None = None
    reason: str | None = None
    lines: list[str] = NONE_GIVEN
    stack: Literal["one", "all"] = "one"


class ChargeIn(Strict):
    """A charge of the ticket, as it is read."""

    id: Id
    label: str | None = None
    percent: Decimal | None = None
    amount: Decimal | None = None
    base: Literal["net", "gross"] = "net"
    tax: str | None = None
    share: Literal["proportional", "even"] = "proportional"


class PayerIn(Strict):
    """A payer, as it is read."""

    id: Id
    guests: list[str] = NONE_GIVEN
    amount: Decimal | None = None


class TipIn(Strict):
    """A tip, as it is read."""

    payer: str
    percent: Decimal | None = None
    amount: Decimal | None = None
    basis: Literal["net", "gross", "total"] = "net"


class PaymentIn(Strict):
    """A payment, as it is read."""

    payer: str
    tender: Id
    amount: Decimal
    tip: Decimal = "0"
    tendered: Decimal | None = None
    extra: Literal["tip", "credit"] | None = None


class ReturnedLineIn(Strict):
    """A line that goes back, as it is read; without a quantity all that is left of it."""

    id: Id
    quantity: Decimal | None = None


class RefundIn(Strict):
    """A refund, as it is read: lines, charges, all tips."""

    lines: list[ReturnedLineIn] = NONE_GIVEN
    charges: list[str] = NONE_GIVEN
    tips: bool = False


class TicketIn(Strict):
    """A ticket, as it is read."""

    currency: str
    tax_mode: Literal["inclusive", "exclusive"]
    lines: list[LineIn]
    cash_rounding: Annotated[TicketSnapshot, Field(ge=1)] = 1
    taxes: list[TaxIn] = NONE_GIVEN
    guests: list[GuestIn] = NONE_GIVEN
    staff: str | None = None
    discounts: list[DiscountIn] = NONE_GIVEN
    charges: list[ChargeIn] = NONE_GIVEN
    split: Literal["shares", "equal", "amounts"] = "shares"
    tips_to: Literal["staff", "pool"] = "staff"
    payers: list[PayerIn] = NONE_GIVEN
    tips: list[TipIn] = NONE_GIVEN
    payments: list[PaymentIn] = NONE_GIVEN
    refunds: list[RefundIn] = NONE_GIVEN

    @classmethod
    def _empty(cls, key: str, value: object) -> bool:
        return key != "lines" and super()._empty(key, value)
