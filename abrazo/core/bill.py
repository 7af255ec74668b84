"""What a reckoning gives: the whole bill of a ticket, and each payer's. All amounts are minor units."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.sharing import Row
from abrazo.core.states import RowKind
from abrazo.core.tax import TaxBill
from abrazo.core.tenders import Account
from abrazo.core.ticket import LineBill


@dataclass(frozen=True, slots=True)
class BillRow:
    """A payer's part of a line, charge or tax, in minor units."""

    ref: str
    kind: RowKind
    amount: int


@dataclass(frozen=True, slots=True)
class TableRow:
    """How a line, charge or tax was shared: its weights, the rounded cells, and what settled payers keep."""

    ref: str
    kind: RowKind
    row: Row
    cells: tuple[int, ...]
    kept: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class PayerBill:
    """One payer's bill; `taxes` is the memo of contained taxes (inclusive mode only)."""

    id: str
    rows: tuple[BillRow, ...]
    taxes: tuple[tuple[str, int], ...]
    account: Account
    cash_due: int


def own_and_shared(bill: PayerBill, others: Iterable[PayerBill]) -> tuple[int, int]:
    """What of a payer's bill is theirs alone, and what is their part of rows that others pay too; minor units."""
    theirs = {(row.kind, row.ref) for other in others for row in other.rows}
    shared = sum(row.amount for row in bill.rows if (row.kind, row.ref) in theirs)
    return bill.account.total - shared, shared


Parts = tuple[tuple[str, int], ...]


def as_one(rows: Iterable[tuple[int, Parts]]) -> tuple[int, Parts]:
    """Several rows as one: what they come to, and each payer's part of all of them; minor units.

    A row is its amount and who covers how much of it; the parts of the result keep the order in which payers appear.
    """
    amount, parts = 0, dict[str, int]()
    for whole, covered in rows:
        amount += whole
        for payer, part in covered:
            parts[payer] = parts.get(payer, 0) + part
    return amount, tuple(parts.items())


@dataclass(frozen=True, slots=True)
class Bill:
    """All amounts of a ticket, in minor units, in the order of the ticket."""

    lines: tuple[LineBill, ...]
    charges: tuple[tuple[str, int], ...]
    taxes: tuple[TaxBill, ...]
    gross: int
    net: int
    charges_total: int
    tax_total: int
    total: int
    payers: tuple[PayerBill, ...]
    staff_tips: tuple[tuple[str, int], ...]
    table: tuple[TableRow, ...] = ()  # how rows were shared; empty when split by amounts
    payer_nets: tuple[int, ...] = ()  # what a tip in percent is reckoned on; empty when split by amounts

    @property
    def paid(self) -> int:
        """What all payers have paid."""
        return sum(payer.account.paid for payer in self.payers)

    @property
    def due(self) -> int:
        """What all payers have still to pay."""
        return sum(payer.account.due for payer in self.payers)

    @property
    def tips(self) -> int:
        """The tips of all payers."""
        return sum(payer.account.tip for payer in self.payers)

    @property
    def rounding(self) -> int:
        """What cash rounding came to; positive: the house got more."""
        return sum(payer.account.rounding for payer in self.payers)

    @property
    def asked(self) -> int:
        """The bill with all tips."""
        return self.total + self.tips

    @property
    def settles(self) -> int:
        """What is paid and what is due together: cash rounding is in it."""
        return self.paid + self.due

    @property
    def shared(self) -> int:
        """What all payers' bills come to."""
        return sum(payer.account.total for payer in self.payers)

    @property
    def unshared(self) -> int:
        """What of the bill is on nobody's: 0, or there is a bug."""
        return self.total - self.shared
