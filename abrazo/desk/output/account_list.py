"""What customers owe: every account over some business dates, by age.

Rules here
- an account is listed when something was owed on it, before or after, or it moved
- amounts are the books' own; how old they are follows from the invoices, as on a statement
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from abrazo.core.accounts import aged
from abrazo.core.journal import Kind
from abrazo.core.ledger import CUSTOMERS, customer_of
from abrazo.core.money import total, totals
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.statements import about_statement
from abrazo.desk.payments.accounts import left_on
from abrazo.desk.permissions import Right, need
from abrazo.formats.statement import table_csv
from abrazo.store import accounts, outbox, people
from abrazo.store.people import Person
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class AccountRow:
    """An account: what was owed before, and at the end, by age. Minor units, below zero: paid ahead.

    `told` is when its last statement was made (UTC), None for none.
    """

    person: Person
    opening: int
    closing: int
    ages: dict[str, int]
    told: str | None


@dataclass(frozen=True, slots=True)
class AccountList:
    """All accounts over some business dates, who owes most first; `ages` and `closing` of all of them, minor units."""

    start: str
    end: str
    rows: list[AccountRow]
    ages: dict[str, int]
    closing: int


def account_list(house: House, actor: Actor, first: date, last: date) -> AccountList:
    """What customers owe on account, from one business date to another. Refused without the right to see reports."""
    need(actor, Right.SEE_REPORTS)
    start, end, connection = first.isoformat(), last.isoformat(), house.connection
    stood = {customer_of(one.account): one for one in accounts.stood(connection, CUSTOMERS, start, end)}
    shown = {id: one for id, one in stood.items() if one.opening or one.closing or one.moves}
    left = left_on(house, {id: one.closing for id, one in shown.items()}, end)
    told = outbox.last_about(connection, map(about_statement, shown))
    rows = []
    for id, person in people.read_many(connection, shown).items():
        dated = ((date.fromisoformat(one.business_date), amount) for one, amount, _ in left.get(id, ()))
        ages, one = aged(dated, last), shown[id]
        rows.append(AccountRow(person, one.opening, one.closing, ages, told.get(about_statement(id))))
    rows.sort(key=lambda row: (-row.closing, row.person.name))
    ages = totals(pair for row in rows for pair in row.ages.items())
    return AccountList(start, end, rows, ages or aged((), last), total(row.closing for row in rows))


def account_list_file(house: House, actor: Actor, first: date, last: date) -> str:
    """The same as CSV (RFC 4180), amounts in the house's currency; that it went out stands in the journal."""
    told, say, text = account_list(house, actor, first, last), house.say, house.settings.currency.text
    ages = (say(w.STATEMENT_AGE, days=days) for days in told.ages)
    rows = [(say(w.ACCOUNT_NAME), say(w.STATEMENT_OPENING), say(w.STATEMENT_CLOSING), *ages)]
    for row in told.rows:
        rows.append((row.person.name, text(row.opening), text(row.closing), *map(text, row.ages.values())))
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what="accounts", since=told.start, until=told.end)
    return table_csv(rows)
