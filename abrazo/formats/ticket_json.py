"""The JSON of `abrazo reckon`: strict models of the input, the bill as output.

Money, rates, percents and quantities are decimal strings. Unknown fields, keys used twice, floats and exponents are
refused. null and an empty list or object mean left out, everywhere but in the ticket's `lines`.
"""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

from pydantic import ValidationError

from abrazo.core.bill import Bill
from abrazo.core.errors import Code, Refused, pointer
from abrazo.core.money import Currency, read_decimal
from abrazo.core.reckon import reckon
from abrazo.core.returns import Return, Returned, give_back
from abrazo.core.sharing import Guest, Payer
from abrazo.core.states import AdjustmentKind, Extra, Share, Split, TaxMode, Tender, TipsTo
from abrazo.core.tax import Tax, TaxPart
from abrazo.core.tenders import Payment
from abrazo.core.ticket import Adjustment, Charge, Choice, Discount, Line, Ticket
from abrazo.core.tips import Tip
from abrazo.core.whole_entry import ticket_postings
from abrazo.formats.ticket_models import (
    AdjustmentIn,
    ChargeIn,
    DiscountIn,
    LineIn,
    PaymentIn,
    RefundIn,
    TaxIn,
    TicketIn,
    TipIn,
)
from abrazo.words.refusals import PLAIN, refusal_text


class _Twice(dict[str, Any]):
    """An object in which a key stood twice; says so when it is met."""

    key = ""


class _Pairs:
    """Makes objects of a text, and remembers whether one of them has a key twice."""

    def __init__(self) -> None:
        self.twice = False

    def __call__(self, pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found = dict(pairs)
        if len(found) == len(pairs):
            return found
        self.twice = True
        keys = [key for key, _ in pairs]
        twice = _Twice(found)
        twice.key = next(key for key in keys if keys.count(key) > 1)
        return twice


def _refuse_twice(value: object, *path: str | int) -> None:
    if isinstance(value, _Twice):
        raise Refused(Code.JSON_KEY_TWICE, pointer(*path, value.key), key=value.key)
    if isinstance(value, dict):
        for key, child in value.items():
            _refuse_twice(child, *path, key)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            _refuse_twice(child, *path, index)


def _constant(name: str) -> float:
    raise ValueError(f"{name} is not a JSON value")


def parse_json(text: bytes) -> object:
    """The JSON value of UTF-8 bytes; refused when it is not JSON, nests too deep or uses a key twice."""
    try:
        pairs = _Pairs()
        value = json.loads(text.decode("utf-8"), object_pairs_hook=pairs, parse_constant=_constant)
        if pairs.twice:
            _refuse_twice(value)
    except UnicodeDecodeError:
        raise Refused(Code.JSON_NOT_UTF8) from None
    except json.JSONDecodeError as error:
        if not text.strip():
            raise Refused(Code.JSON_EMPTY) from None
        raise Refused(Code.JSON_FAULT_AT, msg=error.msg, lineno=error.lineno, colno=error.colno) from None
    except RecursionError:
        raise Refused(Code.JSON_TOO_DEEP) from None
    except ValueError as error:
        raise Refused(Code.JSON_FAULT, error=error) from None
    return value


_CODES = {
    "missing": Code.JSON_MISSING,
    "extra_forbidden": Code.JSON_EXTRA,
    "int_type": Code.JSON_WHOLE_NUMBER,
    "string_type": Code.JSON_TEXT,
    "bool_type": Code.JSON_BOOLEAN,
    "list_type": Code.JSON_LIST,
    "dict_type": Code.JSON_OBJECT,
    "model_type": Code.JSON_OBJECT,
    "model_attributes_type": Code.JSON_OBJECT,
    "string_too_short": Code.JSON_SHORT,
    "string_unicode": Code.JSON_UNICODE,
}


def _first_refusal(error: ValidationError) -> Refused:
    fault = error.errors(include_url=False)[0]
    place = [step for step in fault["loc"] if step != "[key]"]
    code = _CODES.get(fault["type"])
    if code is not None:
        return Refused(code, pointer(*place))
    if fault["type"] == "value_error":
        error_of = fault["ctx"]["error"].args[0]
        if isinstance(error_of, Refused):
            return error_of.at(pointer(*place))
        return Refused(Code.JSON_VALUE, pointer(*place), fault=str(error_of))
    text = str(fault["msg"]).replace("Input should be", "This should be")
    return Refused(Code.JSON_VALUE, pointer(*place), fault=f"{text}.")


class _Reader:
    """Turns the checked models into the core's records, checking ranges."""

    def __init__(self, model: TicketIn) -> None:
        self.currency = Currency.of(model.currency)
        self.model = model

    def money(self, text: str, *where: str | int, negative: bool = False) -> int:
        try:
            amount = self.currency.read(text)
        except Refused as refusal:
            raise refusal.at(pointer(*where)) from None
        if amount < 0 and not negative:
            raise Refused(Code.NEGATIVE_AMOUNT, pointer(*where))
        return amount

    def maybe(self, text: str | None, *where: str | int) -> int | None:
        return None if text is None else self.money(text, *where)

    @staticmethod
    def between(text: str, top: int, *where: str | int) -> Fraction:
        value, _ = read_decimal(text)  # checked with the model
        if not 0 <= value <= top:
            raise Refused(Code.NOT_BELOW_TOP, pointer(*where), top=top)
        return value

    def one_of(self, item: AdjustmentIn | DiscountIn | ChargeIn | TipIn, *where: str | int) -> dict[str, Any]:
        """Exactly one of percent and amount."""
        if (item.percent is None) == (item.amount is None):
            raise Refused(Code.ONE_OF_PERCENT_AND_AMOUNT, pointer(*where))
        if item.percent is not None:
            return {"percent": self.between(item.percent, 100, *where, "percent")}
        return {"amount": self.maybe(item.amount, *where, "amount")}

    def quantity(self, text: str, *where: str | int) -> Fraction:
        value, decimals = read_decimal(text)  # checked with the model
        if decimals > 3:
            raise Refused(Code.QUANTITY_DECIMALS, pointer(*where))
        if value <= 0:
            raise Refused(Code.QUANTITY_ABOVE_ZERO, pointer(*where))
        return value

    def tax(self, item: TaxIn, i: int) -> Tax:
        parts = tuple(
            TaxPart(part.label, self.between(part.rate, 1, "taxes", i, "parts", j, "rate"))
            for j, part in enumerate(item.parts)
        )
        return Tax(item.id, self.between(item.rate, 1, "taxes", i, "rate"), item.label, parts)

    def line(self, item: LineIn, i: int) -> Line:
        at = ("lines", i)
        choices = (
            ()
            if not item.choices
            else tuple(
                Choice(self.money(c.price, *at, "choices", j, "price", negative=True), c.quantity, c.label)
                for j, c in enumerate(item.choices)
            )
        )
        adjustments = (
            ()
            if not item.adjustments
            else tuple(
                Adjustment(kind=AdjustmentKind(a.kind), reason=a.reason, **self.one_of(a, *at, "adjustments", j))
                for j, a in enumerate(item.adjustments)
            )
        )
        return Line(
            id=item.id,
            unit_price=self.money(item.unit_price, *at, "unit_price"),
            quantity=self.quantity(item.quantity, *at, "quantity"),
            label=item.label,
            tax=item.tax,
            staff=item.staff,
            choices=choices,
            adjustments=adjustments,
            shares=tuple(item.shares.items()),
            discountable=item.discountable,
        )

    def payment(self, item: PaymentIn, i: int) -> Payment:
        at = ("payments", i)
        if item.tendered is not None and item.tender != Tender.CASH:
            raise Refused(Code.ONLY_CASH_HANDED, pointer(*at, "tendered"))
        amount = self.money(item.amount, *at, "amount")
        tip = self.money(item.tip, *at, "tip")
        return Payment(
            item.payer,
            item.tender,
            amount,
            tip,
            self.maybe(item.tendered, *at, "tendered"),
            item.extra and Extra(item.extra),
        )

    def refund(self, item: RefundIn, i: int) -> Return:
        lines = tuple(
            (line.id, self.quantity(line.quantity, "refunds", i, "lines", j, "quantity") if line.quantity else None)
            for j, line in enumerate(item.lines)
        )
        return Return(lines, tuple(item.charges), item.tips)

    def refunds(self) -> list[Return]:
        return [self.refund(item, i) for i, item in enumerate(self.model.refunds)]

    def ticket(self) -> Ticket:
        model = self.model
        return Ticket(
            currency=self.currency,
            tax_mode=TaxMode(model.tax_mode),
            cash_rounding=model.cash_rounding,
            taxes=tuple(self.tax(item, i) for i, item in enumerate(model.taxes)),
            guests=tuple(Guest(item.id, item.name) for item in model.guests),
            staff=model.staff,
            tips_to=TipsTo(model.tips_to),
            lines=tuple(self.line(item, i) for i, item in enumerate(model.lines)),
            discounts=tuple(
                Discount(reason=d.reason, lines=tuple(d.lines), stack=d.stack, **self.one_of(d, "discounts", i))
                for i, d in enumerate(model.discounts)
            ),
            charges=tuple(
                Charge(
                    id=c.id, label=c.label, base=c.base, tax=c.tax, share=Share(c.share), **self.one_of(c, "charges", i)
                )
                for i, c in enumerate(model.charges)
            ),
            split=Split(model.split),
            payers=tuple(
                Payer(p.id, tuple(p.guests), self.maybe(p.amount, "payers", i, "amount"))
                for i, p in enumerate(model.payers)
            ),
            tips=tuple(
                Tip(payer=t.payer, basis=t.basis, **self.one_of(t, "tips", i)) for i, t in enumerate(model.tips)
            ),
            payments=tuple(self.payment(item, i) for i, item in enumerate(model.payments)),
        )


def read_ticket(text: bytes) -> Ticket:
    """A ticket from JSON; raises Refused with a pointer for anything that is not one."""
    return _read(text).ticket()


def _read(text: bytes) -> _Reader:
    value = parse_json(text)
    try:
        return _Reader(TicketIn.model_validate(value))
    except ValidationError as error:
        raise _first_refusal(error) from None


# ---- writing


def bill_json(bill: Bill, currency: Currency) -> dict[str, Any]:
    """The bill as JSON values; money as decimal strings."""
    text = currency.text
    return {
        "lines": [{"id": b.id, "gross": text(b.gross), "own": text(b.own), "net": text(b.net)} for b in bill.lines],
        "charges": [{"id": ref, "amount": text(amount)} for ref, amount in bill.charges],
        "taxes": [
            {
                "id": tax.id,
                "base": text(tax.base),
                "tax": text(tax.tax),
                "parts": [{"label": label, "tax": text(part)} for label, part in tax.parts],
            }
            for tax in bill.taxes
        ],
        "gross": text(bill.gross),
        "discounts": text(bill.gross - bill.net),
        "net": text(bill.net),
        "charges_total": text(bill.charges_total),
        "tax_total": text(bill.tax_total),
        "total": text(bill.total),
        "payers": [
            {
                "id": payer.id,
                "rows": [{"ref": row.ref, "kind": row.kind, "amount": text(row.amount)} for row in payer.rows],
                "taxes": [{"id": tax, "tax": text(amount)} for tax, amount in payer.taxes],
                "total": text(payer.account.total),
                "tip": text(payer.account.tip),
                "paid": text(payer.account.paid),
                "due": text(payer.account.due),
                "cash_due": text(payer.cash_due),
                "change": text(payer.account.change),
                "rounding": text(payer.account.rounding),
                "credit": text(payer.account.credit),
            }
            for payer in bill.payers
        ],
        "staff_tips": [{"staff": staff, "amount": text(amount)} for staff, amount in bill.staff_tips],
        "paid": text(bill.paid),
        "due": text(bill.due),
    }


def _refund_json(refund: Returned, currency: Currency) -> dict[str, Any]:
    text = currency.text
    return {
        "amount": text(refund.amount),
        "rows": [{"ref": ref, "kind": kind, "amount": text(amount)} for (kind, ref), amount in refund.rows],
        "taxes": [{"id": tax, "tax": text(amount)} for tax, amount in refund.taxes],
        "tips": text(refund.tips),
    }


def answer(text: bytes, *, postings: bool = False) -> tuple[bool, dict[str, Any]]:
    """What `abrazo reckon` says to one ticket: (is it a bill?, the bill or the error object).

    With `postings` the ticket's double entries by account stand beside the bill.
    """
    try:
        reader = _read(text)
        ticket, asked = reader.ticket(), reader.refunds()
        bill, currency = reckon(ticket), ticket.currency
        said = bill_json(bill, currency)
        returned, back = give_back(ticket, bill, asked)
        if asked:
            said["refunds"] = [_refund_json(one, currency) for one in returned]
        if postings:
            legs = ticket_postings(ticket, bill, returned, back)
            said["postings"] = [{"account": account, "amount": currency.text(amount)} for account, amount in legs]
        return True, said
    except Refused as refusal:
        return False, {"error": {"where": refusal.where, "what": refusal_text(PLAIN, refusal)}}
