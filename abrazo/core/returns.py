"""Refunds of a reckoned ticket by quantity: which rows, taxes and tips each gives back.

Rules here (reckoning, section 12)
- what is given back is cumulative: a line gives `round(net x q2 / Q) - round(net x q1 / Q)`, a charge its amount, whole
- tax per tax id likewise, on the base of the rows that went back; added tax is paid back with them, contained is within
- tips go back whole
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.bill import Bill
from abrazo.core.errors import Code, Refused, pointer
from abrazo.core.money import round_half_up
from abrazo.core.sale_books import Given, Ref
from abrazo.core.states import RowKind, TaxMode
from abrazo.core.ticket import Ticket


@dataclass(frozen=True, slots=True)
class Return:
    """What is asked to go back: lines by id and quantity (None: all that is left), charges by id, all tips."""

    lines: tuple[tuple[str, Fraction | None], ...] = ()
    charges: tuple[str, ...] = ()
    tips: bool = False


@dataclass(frozen=True, slots=True)
class Returned:
    """What one refund gives back, in minor units: rows, tax by id, tips."""

    rows: tuple[tuple[Ref, int], ...]
    taxes: tuple[tuple[str, int], ...]
    tips: int
    amount: int


class _Counting:
    """What went back so far."""

    def __init__(self, ticket: Ticket, bill: Bill) -> None:
        self.ticket, self.bill = ticket, bill
        self.quantity = {line.id: line.quantity for line in ticket.lines}
        self.net = {line.id: line.net for line in bill.lines}
        self.charge = dict(bill.charges)
        self.tax_of: dict[Ref, str | None] = {(RowKind.LINE, line.id): line.tax for line in ticket.lines}
        self.tax_of |= {(RowKind.CHARGE, charge.id): charge.tax for charge in ticket.charges}
        self.back: dict[str, Fraction] = {}
        self.charges: set[str] = set()
        self.bases: dict[str, int] = {}
        self.taxes: dict[str | None, int] = {}
        self.tips = False

    def line(self, id: str, quantity: Fraction | None, where: str) -> int:
        """A line's part; refused when it is unknown, or more than is left of it."""
        if id not in self.quantity:
            raise Refused(Code.UNKNOWN_ID, f"{where}/id", kind="line", name=id)
        whole, before = self.quantity[id], self.back.get(id, Fraction(0))
        now = whole if quantity is None else before + quantity
        if now > whole or before == whole:
            raise Refused(Code.ABOVE_QUANTITY, f"{where}/quantity")
        self.back[id], net = now, self.net[id]
        return round_half_up(net * now / whole) - round_half_up(net * before / whole)

    def whole_charge(self, id: str, where: str) -> int:
        """A charge, whole; refused when it is unknown or went back before."""
        if id not in self.charge:
            raise Refused(Code.UNKNOWN_ID, where, kind="charge", name=id)
        if id in self.charges:
            raise Refused(Code.RETURNED_ALREADY, where)
        self.charges.add(id)
        return self.charge[id]

    def taxes_on(self, rows: Sequence[tuple[Ref, int]]) -> list[tuple[str, int]]:
        """The tax that goes back with rows, by tax in the ticket's order."""
        found = []
        for tax in self.bill.taxes:
            mine = [amount for ref, amount in rows if self.tax_of[ref] == tax.id]
            if not mine:
                continue
            base = self.bases[tax.id] = self.bases.get(tax.id, 0) + sum(mine)
            cumulative = round_half_up(Fraction(tax.tax * base, tax.base)) if tax.base else 0
            found.append((tax.id, cumulative - self.taxes.get(tax.id, 0)))
            self.taxes[tax.id] = cumulative
        return found

    def given(self) -> Given:
        """What went back in all, as the books take it."""
        rows: dict[Ref, Fraction] = {(RowKind.LINE, id): part / self.quantity[id] for id, part in self.back.items()}
        rows |= {(RowKind.CHARGE, id): Fraction(1) for id in self.charges}
        return Given(rows, dict(self.taxes))


def give_back(ticket: Ticket, bill: Bill, asked: Sequence[Return]) -> tuple[list[Returned], Given]:
    """What refunds give back, in the order in which they were made, and what they come to in the books.

    Raises Refused, with the place as a JSON pointer, for what is not on the ticket, not left, or while money is due.
    """
    if not asked:
        return [], Given()
    if bill.due:
        raise Refused(Code.STILL_DUE_TO_RETURN, "/refunds")
    counting = _Counting(ticket, bill)
    return [_one(counting, one, pointer("refunds", index)) for index, one in enumerate(asked)], counting.given()


def _one(counting: _Counting, asked: Return, where: str) -> Returned:
    if not (asked.lines or asked.charges or asked.tips):
        raise Refused(Code.RETURNS_NOTHING, where)
    _once([id for id, _ in asked.lines], f"{where}/lines", "/id")
    _once(asked.charges, f"{where}/charges", "")
    rows: list[tuple[Ref, int]] = []
    for index, (id, quantity) in enumerate(asked.lines):
        rows.append(((RowKind.LINE, id), counting.line(id, quantity, f"{where}/lines/{index}")))
    for index, id in enumerate(asked.charges):
        rows.append(((RowKind.CHARGE, id), counting.whole_charge(id, f"{where}/charges/{index}")))
    if asked.tips and counting.tips:
        raise Refused(Code.RETURNED_ALREADY, f"{where}/tips")
    counting.tips = counting.tips or asked.tips
    tips, taxes = counting.bill.tips if asked.tips else 0, counting.taxes_on(rows)
    added = sum(tax for _, tax in taxes) if counting.ticket.tax_mode == TaxMode.EXCLUSIVE else 0
    return Returned(tuple(rows), tuple(taxes), tips, sum(amount for _, amount in rows) + added + tips)


def _once(ids: Sequence[str], where: str, field: str) -> None:
    for index, id in enumerate(ids):
        if id in ids[:index]:
            raise Refused(Code.USED_TWICE, f"{where}/{index}{field}", name=id)
