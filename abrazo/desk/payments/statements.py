"""A statement of somebody's account: what was owed, what moved, what is owed, and how old that is.

Rules here
- amounts are the books' own, by business date; several entries of one ticket on one date are one row
- how old it is follows from the invoices up to the last date: what came in went to the chosen ones, then the oldest
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from abrazo.core.accounts import aged, balances
from abrazo.core.errors import Code, Refused
from abrazo.core.ledger import customer_account
from abrazo.core.moments import read_day
from abrazo.desk.context import House
from abrazo.desk.payments.accounts import left_on
from abrazo.desk.people.people import known
from abrazo.store import accounts
from abrazo.store.people import Person

USUAL = timedelta(days=90)  # what a statement covers unless somebody says otherwise
LONGEST = timedelta(days=731)


@dataclass(frozen=True, slots=True)
class StatementRow:
    """What one ticket came to on a business date; `balance` is owed after it. Minor units, below zero: it came in.

    `papers` are the numbers of the invoices and credit notes that belong to it.
    """

    business_date: str
    ticket: int | None
    number: int | None
    amount: int
    balance: int
    papers: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Statement:
    """Somebody's account over some business dates, both counted; `ages` are minor units by days. Below zero: ahead."""

    person: Person
    start: str
    end: str
    opening: int
    rows: list[StatementRow]
    closing: int
    ages: dict[str, int]


def read_range(house: House, start: str, end: str) -> tuple[date, date]:
    """The dates of a statement that were typed; without them the last ninety days. Refused beside its field."""
    today = _today(house)
    last = read_day(end, "until", today.isoformat()) if end.strip() else today
    first = read_day(start, "since", today.isoformat()) if start.strip() else last - USUAL
    if first > last:
        raise Refused(Code.STATEMENT_BACKWARDS, "since")
    if last - first > LONGEST:
        raise Refused(Code.STATEMENT_LONG, "since", days=LONGEST.days)
    return first, last


def month_before(house: House) -> tuple[date, date]:
    """The first and the last date of the month that ended last."""
    last = _today(house).replace(day=1) - timedelta(days=1)
    return last.replace(day=1), last


def _today(house: House) -> date:
    """The open day's business date, else the date now."""
    open_day = house.open_day()
    return date.fromisoformat(open_day.business_date) if open_day else house.now().date()


def statement_of(house: House, person_id: int, first: date, last: date) -> Statement:
    """The statement of somebody's account from one business date to another."""
    person, account = known(house, person_id), customer_account(person_id)
    start, end, connection = first.isoformat(), last.isoformat(), house.connection
    opening = accounts.balance_before(connection, account, start)
    moved = accounts.moved(connection, person_id, account, start, end)
    after = balances(opening, (one.amount for one in moved))
    rows = [
        StatementRow(one.business_date, one.ticket, one.number, one.amount, balance, tuple((one.papers or "").split()))
        for one, balance in zip(moved, after, strict=True)
    ]
    closing = after[-1] if after else opening
    left = left_on(house, {person_id: closing}, end).get(person_id, ())
    dated = ((date.fromisoformat(one.business_date), amount) for one, amount, _ in left)
    return Statement(person, start, end, opening, rows, closing, aged(dated, last))
