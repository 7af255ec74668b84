"""What the owners of units have of their hires: a statement over some business dates."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from abrazo.core.accounts import balances
from abrazo.core.hire import owner_account
from abrazo.core.journal import Kind
from abrazo.core.money import total
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets.hires import kinds
from abrazo.formats.statement import table_csv
from abrazo.store import accounts, journal
from abrazo.store.journal import MovedBy
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class OwnerRow:
    """What one entry brought an owner, minor units (below zero: took back), and what they have after it."""

    entry: MovedBy
    amount: int
    balance: int


@dataclass(frozen=True, slots=True)
class OwnerStatement:
    """What an owner has of hires, from one business date to another; minor units."""

    owner: str
    start: str
    end: str
    opening: int
    rows: list[OwnerRow]
    closing: int


def owners(house: House) -> list[str]:
    """Whose units the house hires out, besides its own."""
    return list(dict.fromkeys(kind.owner for kind in kinds(house) if kind.owner))


def owner_statement(house: House, actor: Actor, owner: str, first: date, last: date) -> OwnerStatement:
    """What an owner has of hires. Refused without the right to see reports; NotFound for who owns nothing."""
    need(actor, Right.SEE_REPORTS)
    if owner not in owners(house):
        raise NotFound(f"nothing is owned by {owner}")
    account, start, end = owner_account(owner), first.isoformat(), last.isoformat()
    opening = total((0, -accounts.balance_before(house.connection, account, start)))
    moved = [(one, total((0, -one.amount))) for one in journal.moved_by(house.connection, account, start, end)]
    after = balances(opening, (amount for _, amount in moved))
    rows = [OwnerRow(one, amount, left) for (one, amount), left in zip(moved, after, strict=True)]
    return OwnerStatement(owner, start, end, opening, rows, after[-1] if after else opening)


def in_words(house: House, row: OwnerRow) -> str:
    """What a row is about."""
    phrases = {Kind.HIRE_SHARE: w.OWNER_HIRED, Kind.HIRE_SHARE_BACK: w.OWNER_BACK, Kind.HIRE_SHARE_LESS: w.OWNER_LESS}
    return house.say(phrases.get(row.entry.kind, w.STATEMENT_CHANGED), hire=row.entry.name)


def owner_file(house: House, actor: Actor, owner: str, first: date, last: date) -> str:
    """The same as CSV (RFC 4180); that it went out stands in the journal."""
    told, say, text = owner_statement(house, actor, owner, first, last), house.say, house.settings.currency.text
    heads = (say(w.STATEMENT_DATE), say(w.STATEMENT_WHAT), say(w.STATEMENT_AMOUNT), say(w.STATEMENT_BALANCE))
    rows = [
        (paper_date(house, row.entry.business_date), in_words(house, row), text(row.amount), text(row.balance))
        for row in told.rows
    ]
    opening, closing = (
        ("", say(w.STATEMENT_OPENING), "", text(told.opening)),
        ("", say(w.STATEMENT_CLOSING), "", text(told.closing)),
    )
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what="owner", since=told.start, until=told.end)
    return table_csv((heads, opening, *rows, closing))
