"""JSON Schema of what `abrazo reckon` takes and gives, and of reports; `make schemas` writes them into docs/formats."""

from __future__ import annotations

import json
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from abrazo.formats.report_schema import REPORT
from abrazo.formats.ticket_models import TicketIn

DECIMAL = r"^-?[0-9]+(\.[0-9]+)?$"
Amount = Annotated[str, Field(pattern=DECIMAL, description="A decimal string with all of the currency's decimals.")]


class Out(BaseModel):
    """Exactly these fields, in this order."""

    model_config = ConfigDict(extra="forbid", strict=True)


class LineOut(Out):
    """A line of a bill."""

    id: str
    gross: Amount
    own: Amount
    net: Amount


class ChargeOut(Out):
    """A charge of a bill."""

    id: str
    amount: Amount


class PartOut(Out):
    """A part of a tax of a bill."""

    label: str | None
    tax: Amount


class TaxOut(Out):
    """A tax of a bill."""

    id: str
    base: Amount
    tax: Amount
    parts: list[PartOut]


class RowOut(Out):
    """What a payer has of a line, charge or tax."""

    ref: str
    kind: Annotated[str, Field(pattern="^(line|charge|tax)$")]
    amount: Amount


class MemoOut(Out):
    """Tax within a payer's bill."""

    id: str
    tax: Amount


class PayerOut(Out):
    """A payer's bill."""

    id: str
    rows: list[RowOut]
    taxes: list[MemoOut]
    total: Amount
    tip: Amount
    paid: Amount
    due: Amount
    cash_due: Amount
    change: Amount
    rounding: Amount
    credit: Amount


class StaffTipOut(Out):
    """What of the tips is whose."""

    staff: str
    amount: Amount


class ReturnedRowOut(Out):
    """What goes back of a line or charge."""

    ref: str
    kind: Annotated[str, Field(pattern="^(line|charge)$")]
    amount: Amount


class RefundOut(Out):
    """What one refund gives back."""

    amount: Amount
    rows: list[ReturnedRowOut]
    taxes: list[MemoOut]
    tips: Amount


class PostingOut(Out):
    """One account of the ticket's double entry; debit positive."""

    account: str
    amount: Amount


class BillOut(Out):
    """A whole bill."""

    lines: list[LineOut]
    charges: list[ChargeOut]
    taxes: list[TaxOut]
    gross: Amount
    discounts: Amount
    net: Amount
    charges_total: Amount
    tax_total: Amount
    total: Amount
    payers: list[PayerOut]
    staff_tips: list[StaffTipOut]
    paid: Amount
    due: Amount
    refunds: list[RefundOut] | None = None
    postings: list[PostingOut] | None = None


def schemas() -> dict[str, dict[str, Any]]:
    """The schemas by file name."""
    return {
        "ticket.schema.json": {"$schema": "https://json-schema.org/draft/2020-12/schema", **_input()},
        "bill.schema.json": {"$schema": "https://json-schema.org/draft/2020-12/schema", **BillOut.model_json_schema()},
        "report.schema.json": REPORT,
    }


def _input() -> dict[str, Any]:
    """The input's schema, taking null and emptiness as left out, as the reader does, and checking decimal strings."""
    schema = TicketIn.model_json_schema()
    for model in [schema, *schema.get("$defs", {}).values()]:
        for field, value in model["properties"].items():
            if field not in model.get("required", []):
                empties: list[dict[str, Any]] = [{"type": "null"}, {"type": "array", "maxItems": 0}]
                empties.append({"type": "object", "maxProperties": 0})
                meta = {key: value.pop(key) for key in ("default", "title") if key in value}
                model["properties"][field] = {"anyOf": [value, *empties], **meta}
    return schema


def text(schema: dict[str, Any]) -> str:
    """A schema as it is written."""
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"
