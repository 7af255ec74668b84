"""The auditor's folder: everything of some business days that the books can be checked by, without this program.

- tickets.csv: every ticket that was closed on these days, with what it came to; receipts/: the receipt of each payer
- journal.jsonl: every entry as it is chained (RFC 8785), from which its hash is reckoned anew; journal.csv: words
- changes.csv: of these what changed prices, rights, ways to pay or settings; heads.csv: count and head at each close
- set-up.csv: what was changed in set-up, each field before and after, also between two days
- reports/: the sealed figures of each day
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Iterator, Sequence

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, canonical, said
from abrazo.desk import history
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.reports import written
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.permissions import Right, need
from abrazo.desk.setup.house_settings import THINGS
from abrazo.desk.setup.things import told
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_tickets
from abrazo.formats.receipt_text import receipt_text
from abrazo.formats.report_json import harmless
from abrazo.store import figures, journal, till
from abrazo.store import ticket as ticket_store
from abrazo.store.db import snapshot
from abrazo.store.set_up import changes_between

File = tuple[str, bytes]
MOST_DAYS = 31  # that a page writes at once; the command writes any number
AT_ONCE = 200  # tickets that are read together
CHANGES = frozenset({
    Kind.LINE_REPRICED, Kind.BOOKING_PRICED, Kind.TENDER_ADDED, Kind.TENDER_ON, Kind.TENDER_OFF, Kind.TENDER_MOVED,
    Kind.TABLE_ADDED, Kind.TABLE_CHANGED, Kind.TABLE_TURNED, Kind.TABLE_REMOVED, Kind.FREEING_SET, Kind.REMOVED_SHOWN,
    Kind.REMOVED_LEFT_OUT, Kind.LANGUAGE_SET, Kind.TIPS_TO_STAFF, Kind.TIPS_TO_POOL, Kind.SENT_AT_ONCE,
    Kind.SENT_WHEN_TOLD, Kind.SOLD_ON, Kind.RIGHT_CHANGED, Kind.IDLE_SET, Kind.CASH_SIGNED_FOR,
    Kind.CASH_NOT_SIGNED_FOR, Kind.PAY_OUT_LIMIT, Kind.FREE_DISCOUNT_SET,
    Kind.PETTY_CATEGORIES, Kind.ANONYMOUS_ACCOUNTS, Kind.TILL_HELD, Kind.TILL_LET_GO, Kind.PERSON_HELD,
    Kind.PERSON_LET_GO, Kind.SET_UP_CHANGED,
})  # fmt: skip
SET_UP_COLUMNS = ("at", "till", "person", "kind", "id", "name", "what", "field", "before", "after")
TICKET_COLUMNS = ("number", "day", "place", "opened", "closed", "by", "till", "total", "tips", "state")
ENTRY_COLUMNS = ("number", "at", "day", "till", "person", "kind", "ticket", "what")


def zipped(house: House, actor: Actor, days: Sequence[int]) -> bytes:
    """The folder of days as a ZIP file for somebody. Refused without the right, and for too many days at once."""
    need(actor, Right.SEE_REPORTS)
    if len(days) > MOST_DAYS:
        raise Refused(Code.TOO_MANY_DAYS, "from", most=MOST_DAYS)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in folder(house, days):
            packed.writestr(zipfile.ZipInfo(name), data, zipfile.ZIP_DEFLATED)
    dates = till.dates_of(house.connection)
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what="auditor's folder", since=dates[days[0]], until=dates[days[-1]])
    return out.getvalue()


def folder(house: House, days: Sequence[int]) -> Iterator[File]:
    """The files of days, in their order: name and content; all of one moment, also while others write."""
    with snapshot(house.connection):
        yield from _files(house, days)


def _files(house: House, days: Sequence[int]) -> Iterator[File]:
    tickets = list(tickets_of(house, days))
    rows = (ticket_row(house, whole) for whole in tickets)
    yield "tickets.csv", _csv(TICKET_COLUMNS, rows)
    for whole in tickets:
        for payer in whole.payers:
            yield (
                f"receipts/{whole.head.number}-{payer.id}.txt",
                _text(receipt_text(receipt_of(house, whole, payer.id))),
            )
    wanted = set(days)
    links = (link for link in journal.chain(house.connection) if link.day in wanted)
    chained = (canonical({**said(link), "hash": link.hash}) for link in links)
    yield "journal.jsonl", _text("\n".join(chained))
    entries = journal.of_days(house.connection, days)
    yield "journal.csv", _csv(ENTRY_COLUMNS, _entry_rows(house, entries))
    yield "changes.csv", _csv(ENTRY_COLUMNS, _entry_rows(house, [one for one in entries if one.kind in CHANGES]))
    yield "set-up.csv", _csv(SET_UP_COLUMNS, _set_up_rows(house, days))
    dates = till.dates_of(house.connection)
    heads = [(dates[day], *map(str, figures.head_of(house.connection, day) or ("", ""))) for day in days]
    yield "heads.csv", _csv(("day", "entries", "head"), heads)
    for day in days:
        yield f"reports/{dates[day]}-{day}.json", written(house, [day], None, "json")


def tickets_of(house: House, days: Sequence[int]) -> Iterator[TicketSnapshot]:
    """Every ticket of some days that was closed, also when it was made void or opened again since."""
    ids = [ticket for day in days for ticket in ticket_store.ended_on(house.connection, day)]
    for begin in range(0, len(ids), AT_ONCE):
        yield from load_tickets(house, ids[begin : begin + AT_ONCE]).values()


def ticket_row(house: House, whole: TicketSnapshot) -> tuple[str, ...]:
    """A ticket by TICKET_COLUMNS."""
    head, text = whole.head, house.settings.currency.text
    dates = house.once("dates", lambda: till.dates_of(house.connection))
    when = (dates[head.day], place_of(house, whole), head.opened_at, head.closed_at or "")
    state = "void" if head.voided_at else head.state
    return str(head.number), *when, head.staff, head.till, text(whole.bill.total), text(whole.bill.tips), state


def _entry_rows(house: House, entries: Iterable[journal.Entry]) -> Iterator[tuple[str, ...]]:
    reads, dates = history.reader(house), till.dates_of(house.connection)
    for one in entries:
        what = history.described(reads, one)
        where = (dates[one.day], one.till, one.staff)
        yield str(one.number), one.at, *where, one.kind, "" if one.ticket is None else str(one.ticket), what


def _set_up_rows(house: House, days: Sequence[int]) -> Iterator[tuple[str, ...]]:
    """From the close of the day before the first on, since a house is set up between its days too."""
    last = till.read_day(house.connection, max(days))
    until = last.closed_at if last and last.closed_at else house.stamp()
    for one in changes_between(house.connection, till.closed_before(house.connection, min(days)), until):
        who = (one.at, one.till, one.staff, one.thing, one.ref, one.name, one.what)
        fields = told(house, THINGS[one.thing], one, every=True) if one.thing in THINGS else []
        for field, before, after in fields or [("", "", "")]:
            yield *who, field, before, after


def _csv(columns: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(columns)
    writer.writerows([harmless(cell) for cell in row] for row in rows)
    return out.getvalue().encode()


def _text(text: str) -> bytes:
    return f"{text}\n".encode()
