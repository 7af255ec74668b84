"""Every record of the store is written and read back, with a distinct value in every column."""

from __future__ import annotations

import dataclasses
import inspect
import sqlite3
from collections.abc import Callable
from dataclasses import replace
from importlib import import_module
from itertools import count
from pathlib import Path
from typing import Any, get_args, get_type_hints

import pytest

from abrazo.core.advances import AdvanceTax
from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.journal import Kind
from abrazo.core.ledger import Posting, Role
from abrazo.core.money import Currency
from abrazo.core.states import (
    BookingState,
    FileKind,
    ImportState,
    InvoiceKind,
    OwnAbout,
    PoolMeasure,
    RowKind,
    Source,
    StatementOutcome,
    WalkInState,
)
from abrazo.core.till import Drawer
from abrazo.store import (
    accounts,
    adjustments,
    advances,
    benefits,
    bookings,
    cards,
    catalogue,
    charges,
    corrections,
    courses,
    db,
    drawer_sections,
    figures,
    file_imports,
    guests,
    hires,
    holds,
    invoices,
    jobs,
    journal,
    layaways,
    lines,
    memberships,
    merging,
    migrate,
    outbox,
    owed_standing,
    own_fields,
    people,
    phone_orders,
    prep,
    prices,
    room,
    series,
    settings,
    sign_in,
    snapshots,
    staff,
    statement_runs,
    stock,
    stored_value,
    tender_types,
    tenders,
    ticket,
    till,
    tip_pool,
)

NUMBERS = count(1000)


def distinct(kind: type[Any], /, **fixed: object) -> Any:
    """A record with another value in every field; those that have a meaning are fixed."""
    hints = get_type_hints(kind)
    return kind(**{f.name: fixed.get(f.name, _value(f.name, hints[f.name])) for f in dataclasses.fields(kind)})


def _value(name: str, hint: Any) -> object:
    kinds = [one for one in (get_args(hint) or (hint,)) if one is not type(None)]
    if kinds[0] is bool:
        return True
    return (
        next(NUMBERS) if kinds[0] is int else float(next(NUMBERS)) if kinds[0] is float else f"{name} {next(NUMBERS)}"
    )


@pytest.fixture
def c(tmp_path: Path) -> db.Connection:
    connection = db.connect(tmp_path / "house.db")
    migrate.migrate(connection)
    connection.execute("PRAGMA foreign_keys = OFF")
    return connection


def a_ticket(c: db.Connection) -> int:
    return ticket.add(c, ticket.NewTicket("tamsin", "galley", 1, "then", "G1", Source.TAB, 4, "Ada", 77))


def rows(c: db.Connection, number: int) -> snapshots.TicketRows:
    return snapshots.read_rows(c, [number])[number]


def same(written: Any, found: Any, **anew: object) -> None:
    """What was read is what was written, but for what was given anew."""
    assert found is not None
    assert dataclasses.replace(written, **{name: getattr(found, name) for name in anew}) == found
    for name, value in anew.items():
        assert value is ... or getattr(found, name) == value


def a_line(c: db.Connection) -> None:
    number = a_ticket(c)
    payer = guests.add_payer(c, number, "A", 3, 250)
    guest = guests.add_guest(c, number, "B", payer, "Ada")
    line = distinct(
        lines.LineRow,
        role=Role.ACCOUNT_PAYMENT,
        removed_at=None,
        removed_by=None,
        choices=(("large", 50),),
        shares=((guest, 2),),
    )
    lines.add_line(c, number, line)
    (found,) = rows(c, number).lines
    same(line, found, id=...)
    assert rows(c, number).guests == [guests.GuestRow(guest, "B", "Ada", payer)]
    (read,) = rows(c, number).payers
    assert (read.id, read.letter, read.position, read.stated) == (payer, "A", 3, 250)


def a_head(c: db.Connection) -> None:
    number = a_ticket(c)
    ticket.set_held(c, number, "held")
    ticket.set_price_list(c, number, "early")
    ticket.set_anonymous(c, number, "Hatch")
    ticket.set_billed(c, number, "billed")
    ticket.set_bill_asked(c, number, "asked")
    ticket.set_reopened(c, number, "reopened", "voiding")
    ticket.set_prices_kept(c, number, "kept")
    head = rows(c, number).head
    assert (head.spot, head.staff, head.till, head.day, head.opened_at, head.source) == (
        "G1",
        "tamsin",
        "galley",
        1,
        "then",
        "tab",
    )
    assert (head.person, head.name, head.number, head.held_at, head.price_list) == (4, "Ada", 77, "held", "early")
    assert (head.anonymous_account, head.billed_at, head.bill_asked_at) == ("Hatch", "billed", "asked")
    assert (head.reopened_at, head.voiding_at, head.prices_kept_at) == ("reopened", "voiding", "kept")


def a_charge(c: db.Connection) -> None:
    number, charge = a_ticket(c), distinct(charges.ChargeRow, share="even")
    charges.add_charge(c, number, charge)
    same(charge, rows(c, number).charges[0], id=...)


def an_adjustment(c: db.Connection) -> None:
    number = a_ticket(c)
    given = distinct(adjustments.AppliedAdjustment, kind="benefit", amount=None, series=None, off=())
    adjustments.add(c, number, given)
    same(given, rows(c, number).given[0], id=...)


def a_series(c: db.Connection) -> None:
    kind = distinct(series.SeriesKind, items=("a", "b"))
    catalogue.add_item(c, distinct(catalogue.Item, id=kind.item), 1, ())
    series.add_kind(c, kind)
    assert series.list_kinds(c) == [kind]
    number = a_ticket(c)
    sells = distinct(lines.LineRow, role=Role.SERIES, removed_at=None, removed_by=None, choices=(), shares=())
    line = lines.add_line(c, number, sells)
    series.add(c, line, kind, 4)
    ((sold,), at) = (series.on_ticket(c, number), "then")
    given = distinct(
        adjustments.AppliedAdjustment, line=line, kind="series", percent=None, benefit=None, series=sold.id, off=()
    )
    made = adjustments.add(c, number, given)
    series.add_use(c, (sold.id, 2), at, adjustment=made)
    same(given, rows(c, number).given[0], id=...)
    (use,) = series.uses_on(c, number)
    assert use == series.SeriesUse(use.id, sold.id, 2, made, line, given.amount, None, True)
    series.book_use(c, use.id, 33)
    series.add_use(c, (sold.id, 3), at, refund=9)
    series.book_refund(c, 9, (sold.id, 3), 32)
    series.set_sold(c, sold.id, 100, "2026-01-01", "2026-12-31")
    (sold,) = series.of_person(c, 4)
    whose = (4, kind.uses, 100, "2026-01-01", "2026-12-31", number, 77, sells.label, ("a", "b"), (2, 3), 35)
    assert sold == series.Series(sold.id, line, kind.item, *whose)
    assert series.gone(c, sold.id) == [
        series.GoneUse(2, at, number, 77, sells.label, False), series.GoneUse(3, at, None, None, None, True),
    ]  # fmt: skip
    series.free_refund(c, 9, "later")
    series.free_use(c, use.id, "later")
    assert [one.gone for one in series.sold(c)] == [()]


def a_membership(c: db.Connection) -> None:
    kind, sells = distinct(memberships.MembershipKind), distinct(memberships.MembershipItem)
    memberships.add_kind(c, kind, 1)
    catalogue.add_item(c, distinct(catalogue.Item, id=sells.item), 1, ())
    memberships.add_item(c, sells)
    assert memberships.list_items(c) == [sells]
    who = people.add(c, distinct(people.Person, company=False, account=False, birthday=None, household=None), "ada")
    number = a_ticket(c)
    line = lines.add_line(
        c, number, distinct(lines.LineRow, role=Role.SALE, removed_at=None, removed_by=None, choices=(), shares=())
    )
    days = ("2026-01-01", "2026-12-31")
    memberships.add(
        c, memberships.Membership(0, who, kind.id, kind.name, *days, line=line, anchor="2025-01-01"), "wren"
    )
    (made,) = memberships.on_ticket(c, number)
    assert made.being_sold and memberships.of_person(c, who) == []
    memberships.set_net(c, made.id, 96)
    made = memberships.read(c, made.id) or made
    whole = (who, kind.id, kind.name, *days, line, 96, "2025-01-01", number, 77, made.whose)
    assert made == memberships.Membership(made.id, *whole) and memberships.of_person(c, who) == [made]
    assert memberships.holding(c, [who], "2026-06-13") == {who: [made]}
    memberships.add_pause(c, made.id, ("2026-06-01", "2026-06-13"), "then", "wren")
    assert memberships.pauses(c, made.id) == [("2026-06-01", "2026-06-13")]
    assert memberships.holding(c, [who], "2026-06-13") == {who: []}


def an_account(c: db.Connection) -> None:
    member, gone = distinct(accounts.Member), distinct(accounts.WriteOff)
    for limit in (5, member.limit):
        accounts.set_member(c, dataclasses.replace(member, limit=limit), "then")
    assert accounts.members_of(c, member.company) == accounts.companies_of(c, member.person) == [member]
    accounts.end_member(c, member.company, member.person, "later")
    assert accounts.members_of(c, member.company) == []
    accounts.add_write_off(c, gone)
    assert accounts.written_off(c, gone.payment) == [gone]
    for step in (1, 2):
        accounts.add_reminder(c, 7, step, "then", "wren")
    assert accounts.reminded(c, [7, 8]) == {7: 2}


def an_invoice(c: db.Connection) -> None:
    for place, kind in enumerate(("invoice", "credit note", "invoice")):
        number = invoices.next_number(c, InvoiceKind(kind))
        row = distinct(invoices.InvoiceRow, kind=kind, number=number, document='{"number": "I-1"}')
        made = invoices.add(c, row)
        same(row, invoices.read(c, made), id=...)
        assert (number, len(invoices.of_buyer(c, row.buyer, 9))) == (1 + place // 2, 1)
    assert [one.number for one in invoices.of_ticket(c, row.ticket)] == [2]
    for refused in ("UPDATE invoice SET number = 9", "DELETE FROM invoice"):
        with pytest.raises(sqlite3.IntegrityError):
            c.execute(refused)


def a_statement_run(c: db.Connection) -> None:
    run = distinct(statement_runs.Run, stopped_at=None)
    made = statement_runs.add(c, run, (4, 9))
    same(run, statement_runs.read(c, made), id=made)
    assert statement_runs.next_row(c) == (made, 4)
    statement_runs.end_row(c, made, 4, StatementOutcome.PAPER)
    statement_runs.end_row(c, made, 4, StatementOutcome.MAILED)  # once
    paper = statement_runs.RunRow(4, StatementOutcome.PAPER, None, None, None)
    assert statement_runs.rows_of(c, made) == [paper, statement_runs.RunRow(9, None, None, None, None)]
    statement_runs.stop(c, made, "later")
    assert statement_runs.next_row(c) is None
    told = statement_runs.Latest(made, run.at, run.start, run.end, "later", 2, 1)
    assert statement_runs.latest(c, 1) == [told]


def a_course(c: db.Connection) -> None:
    kept = distinct(courses.Course, starts_at="a1", ends_at="a2", places=40, cancelled_at=None, reason="", taken=0)
    made = courses.add(c, kept, "then", "ada")
    same(kept, courses.read(c, made), id=made)
    booked = distinct(
        bookings.Booking, party=2, course=made, state=BookingState.BOOKED, ticket=None, deposit=0, reason="", addons=()
    )
    one = bookings.add(c, booked, "then")
    assert (courses.read(c, made) or kept).taken == booked.party
    assert [place.id for place in bookings.of_course(c, made)] == [one]
    later = dataclasses.replace(kept, id=made, staff="bo", starts_at="later", ends_at="latest", places=99, note="new")
    courses.change(c, later)
    moved = bookings.read(c, one)
    assert moved and (moved.staff, moved.starts_at, moved.ends_at) == ("bo", "later", "latest")
    assert courses.between(c, "later", "later2")[0].places == 99 and courses.items_after(c, "a") == {kept.item}
    assert [found.id for found in courses.of_item(c, kept.item, "a")] == [made]
    courses.call_off(c, made, "now", "why")
    off = courses.read(c, made)
    assert off and (off.cancelled_at, off.reason) == ("now", "why") and not courses.items_after(c, "a")


def an_advance(c: db.Connection) -> None:
    taxes = [AdvanceTax("full", 700, 117), AdvanceTax("less", 300, 27)]
    advances.put(c, 5, taxes)
    held = [AdvanceTax("full", 350, 58), AdvanceTax("less", 150, 14)]
    advances.set_held(c, 5, held)
    assert advances.taxes_of(c, 5) == list(zip(taxes, held, strict=True))
    assert (advances.held_of(c, [5, 6]), advances.held_tax(c)) == (held, 72)
    number = a_ticket(c)
    line = lines.add_line(
        c, number, distinct(lines.LineRow, role=Role.DEPOSIT, unit_price=900, removed_at=None, choices=(), shares=())
    )
    assert advances.read(c, [line])[0].held == 0  # its ticket is open
    c.execute("UPDATE ticket SET state = 'closed' WHERE id = ?", (number,))
    (one,) = advances.read(c, [line, 999])
    assert isinstance(one, advances.Advance) and (one.ticket, one.deposit, one.held) == (number, 900, 900)


def own_facts(c: db.Connection) -> None:
    own_fields.put_fields(c, OwnAbout.JOB, [("Kind", ("boat", "board")), ("Mast", ())], "then")
    kind, mast = own_fields.fields(c)
    assert kind == own_fields.OwnField(kind.id, OwnAbout.JOB, "Kind", ("boat", "board"))
    own_fields.put_values(c, 7, {kind.id: "boat", mast.id: "tall"})
    own_fields.put_fields(c, OwnAbout.JOB, [("Mast", ())], "later")
    assert own_fields.said(c, OwnAbout.JOB, 7) == [(mast, "tall")]
    own_fields.put_fields(c, OwnAbout.JOB, [("Kind", ()), ("Mast", ())], "later")
    assert [value for _, value in own_fields.said(c, OwnAbout.JOB, 7)] == ["boat", "tall"]  # as it was said
    own_fields.put_values(c, 7, {mast.id: ""})
    assert [value for _, value in own_fields.said(c, OwnAbout.JOB, 7)] == ["boat", ""]
    assert not own_fields.said(c, OwnAbout.PERSON, 7)


def a_layaway(c: db.Connection) -> None:
    number = a_ticket(c)
    aside = layaways.Layaway(
        number, layaways.add(c, number, "2026-08-12", "then", "wren"), "2026-08-12", 700, "then", "wren"
    )
    layaways.hold(c, number, 700)
    assert layaways.of_ticket(c, number) == layaways.by_number(c, aside.number) == aside
    assert layaways.kept(c) == layaways.of_person(c, 4) == layaways.holding(c) == [aside]
    assert (ticket.list_open(c), rows(c, number).head.set_aside) == ([], "2026-08-12")
    assert ticket.list_for_today(c, "2026-08-13") == [number] != ticket.list_for_today(c, "2026-08-12")
    layaways.end(c, number, "later", cancelled=True)
    layaways.renumber(c, number)
    ended = dataclasses.replace(aside, held=0, ended_at="later", cancelled=True)
    assert (layaways.of_ticket(c, number), rows(c, number).head.number) == (ended, 78)
    assert layaways.kept(c) == layaways.holding(c) == []


def a_hire(c: db.Connection) -> None:
    kind, unit = distinct(hires.HireKind), distinct(hires.Unit)
    tariff = distinct(hires.TariffRow, minutes=None)
    kind, unit, tariff = (dataclasses.replace(one, item="kayak") for one in (kind, unit, tariff))
    catalogue.add_item(c, distinct(catalogue.Item, id="kayak", name="Kayak"), 1, ())
    hires.add_kind(c, kind)
    hires.add_tariff(c, tariff, 1)
    hires.add_unit(c, unit)
    assert (hires.list_kinds(c), hires.list_tariffs(c), hires.list_units(c)) == ([kind], [tariff], [unit])
    number = a_ticket(c)
    rows_of = distinct(
        lines.LineRow, role=Role.SALE, item="kayak", removed_at=None, removed_by=None, choices=(), shares=()
    )
    line = lines.add_line(c, number, rows_of)
    wanted = distinct(hires.Hire, unit=unit.id, line=line, item="kayak", ticket=number, closed=False, kind="Kayak")
    made = hires.add(c, wanted)
    assert [one.id for one in hires.out(c)] == [made]
    hires.set_returned(c, dataclasses.replace(wanted, id=made, charged_on=number))
    hires.set_part(c, made, wanted.part)
    found = hires.read(c, made)
    same(dataclasses.replace(wanted, charged_on=number), found, id=made, number=1021)
    assert [hires.by_number(c, 1021), *hires.on_ticket(c, number), *hires.of_person(c, wanted.person)] == [found] * 3
    told = distinct(hires.Told, hire=made, event="returned", owner=kind.owner)
    for _ in range(2):  # once under its reference
        hires.tell(c, told)
    same(told, hires.waiting(c)[0], id=1)
    assert hires.told_of(c, made) == 1
    hires.mark_sent(c, 1, "then")
    assert hires.waiting(c) == []
    assert hires.charged(c) == [number]


def a_payment(c: db.Connection) -> None:
    payment = distinct(
        tenders.PaymentRow,
        extra="credit",
        signature="paper",
        taken_back_at=None,
        taken_back_by=None,
        back_day=None,
        back_till=None,
    )
    same(payment, tenders.read_payment(c, tenders.add_payment(c, payment)), id=...)


def a_request(c: db.Connection) -> None:
    asked = distinct(
        tenders.CardRequest, kind="tip", state="asked", extra="tip", ended_at=None, freed_at=None, charged=None
    )
    tenders.add_request(c, asked)
    same(asked, tenders.read_request(c, asked.reference))
    tenders.free(c, asked.reference, "today")
    tenders.charged_late(c, asked.reference, 7)
    same(replace(asked, freed_at="today", charged=7), tenders.read_request(c, asked.reference))


def a_refund(c: db.Connection) -> None:
    refund = distinct(corrections.Refund, state="asked", taxes=(("std", 120, 20), (None, 7, 0)))
    number = corrections.add_refund(c, refund)
    same(refund, corrections.read_refund(c, number), id=number)
    corrections.add_refund_parts(c, number, [(RowKind.LINE, 5, 120, "1.5"), (RowKind.CHARGE, 6, 7, None)])
    assert corrections.pieces_of(c, number) == [(5, "1.5")]
    assert corrections.pieces_given(c, refund.ticket) == [(5, "1.5", 120)]
    assert corrections.parts_given(c, refund.ticket) == [("charge", 6, 7), ("line", 5, 120)]


def a_correction(c: db.Connection) -> None:
    one = distinct(corrections.Correction, kind="handed on", done_at=None)
    corrections.add(c, one)
    same(one, corrections.waiting(c)[0], id=...)


def a_booking(c: db.Connection) -> None:
    booking = distinct(
        bookings.Booking, state="here", ticket=None, addons=("towel", "wax"), deposit=0, reason="", party=3
    )
    number = bookings.add(c, booking, "made")
    same(booking, bookings.read(c, number), id=number)
    bookings.set_state(c, number, BookingState.CANCELLED, "ill")
    bookings.set_addons(c, number, ("wax",))
    same(booking, bookings.read(c, number), id=number, state="cancelled", reason="ill", addons=("wax",))


def booking_terms(c: db.Connection) -> None:
    for terms in (bookings.ServiceTerms("towel", 500, 0), bookings.ServiceTerms("towel", 700, 300)):
        bookings.put_terms(c, terms)
        assert bookings.list_terms(c) == {"towel": terms}


def work_hours(c: db.Connection) -> None:
    one = distinct(staff.Staff, role="clerk", counter_only=False, rights=(), hours=())
    staff.add(c, one, "hash", one.pin_digits)
    hours = (staff.WorkHours(1, "09:00", "12:00"), staff.WorkHours(1, "13:00", "17:00"))
    for said in (hours[:1], hours):
        staff.put_hours(c, one.id, said)
        assert staff.list_staff(c)[one.id].hours == said


def a_merge(c: db.Connection) -> None:
    bookings.add(c, distinct(bookings.Booking, person=4, state="here", ticket=None, addons=(), party=1), "made")
    number = merging.add(c, 4, 5, "then", "wren", '{"gone": 1}')
    merge = merging.Merge(number, 4, 5, "then", "wren", '{"gone": 1}')
    assert (merging.read(c, number), merging.standing(c, 5)) == (merge, [merge])
    assert len(bookings.for_sheet(c, 5, "")) == 1
    merging.undo(c, merge, "later")
    assert (merging.read(c, number), merging.standing(c, 5)) == (None, [])
    assert len(bookings.for_sheet(c, 4, "")) == 1


def a_walk_in(c: db.Connection) -> None:
    number = bookings.add_walk_in(c, "Ada", "+353", 4, "a fitting", "then")
    assert bookings.read_walk_in(c, number) == bookings.WalkIn(
        number, "Ada", "+353", 4, "a fitting", "then", WalkInState.WAITING, None
    )


def a_job(c: db.Connection) -> None:
    task = distinct(jobs.Task, item="unlisted", tax=None)
    fresh = {"agreed_at": "", "agreed_how": "", "cancelled_at": None, "reason": "", "reminded_at": None}
    job = distinct(jobs.Job, state="waiting", ready_at=None, settled_on=None, tasks=(task,), handovers=(), **fresh)
    number = jobs.add(c, job)
    found = jobs.read(c, number)
    assert found is not None
    same(job, found, id=number, number=..., tasks=...)
    same(task, found.tasks[0], id=..., job=number)
    jobs.agree(c, number, 77, "then", "by phone")
    jobs.cancel(c, number, "now", "sold")
    jobs.reminded(c, number, "later")
    jobs.change(c, dataclasses.replace(job, id=number, thing="another"))
    changed = {"agreed": 77, "agreed_at": "then", "agreed_how": "by phone", "cancelled_at": "now", "reason": "sold"}
    same(job, jobs.read(c, number), id=number, number=..., tasks=..., reminded_at="later", thing="another", **changed)
    jobs.change_task(c, dataclasses.replace(found.tasks[0], unit_price=9, quantity="3", pieces=3))
    jobs.add_tasks(c, number, [dataclasses.replace(task, label="second")])
    one, two = found.tasks[0], jobs.read(c, number).tasks[1]  # type: ignore[union-attr]  # it is there
    same(one, jobs.read(c, number).tasks[0], unit_price=9, quantity="3", pieces=3)  # type: ignore[union-attr]  # likewise
    jobs.end_task(c, two.id, "now")
    jobs.begin_work(c, number, "wren", "9:00")
    jobs.begin_work(c, number, "odile", "9:30")
    jobs.end_work(c, number, "10:00")
    assert jobs.work_on(c, [number]) == [
        jobs.Work(number, "wren", "9:00", "9:30"), jobs.Work(number, "odile", "9:30", "10:00"),
    ]  # fmt: skip
    batch = jobs.add_handovers(c, number, {found.tasks[0].id: 2}, "by the door", "then", "wren")
    left = jobs.read(c, number)
    assert left is not None
    (gone,) = left.handovers
    assert (gone.pieces, gone.note, gone.at, gone.staff, gone.batch) == (2, "by the door", "then", "wren", batch)


def a_person(c: db.Connection) -> None:
    person = distinct(people.Person, erased_at=None, merged_into=None)
    made = people.add(c, person, "words")
    accounts.set_terms(c, made, person.account_limit, person.wants_reference)
    people.set_buyer(c, dataclasses.replace(person, id=made))
    same(person, people.read(c, made), id=...)


def a_card(c: db.Connection) -> None:
    card = distinct(cards.Card, last_four="4417", ended_at=None)
    same(card, cards.read(c, cards.add(c, card)), id=..., ended_at=None) if hasattr(card, "ended_at") else same(
        card, cards.read(c, 1), id=...
    )


def a_hold(c: db.Connection) -> None:
    hold = distinct(holds.Hold, state="held")
    holds.add(c, hold)
    same(hold, holds.of_ticket(c, hold.ticket)[0], id=...)


def a_stored_value(c: db.Connection) -> None:
    value = distinct(stored_value.Stored, kind="gift card")
    same(value, stored_value.read(c, stored_value.add(c, value)), id=...)


def an_item(c: db.Connection) -> None:
    group = catalogue.ChoiceGroup("size", "Size", 1, 2, (catalogue.GroupChoice("large", "large", 50),))
    catalogue.add_group(c, group)
    item = distinct(catalogue.Item, unit="kg", groups=1, required=1, family="", family_name="", variants=0)
    catalogue.add_item(c, item, 3, ["size"])
    same(item, catalogue.read_items(c, [item.id])[item.id])
    assert catalogue.list_groups(c, item.id) == [group]


def a_table(c: db.Connection) -> None:
    spot = distinct(room.Spot, shape="round", ended_at=None)
    room.add(c, spot)
    same(spot, room.all_spots(c)[spot.id])


def somebody(c: db.Connection) -> None:
    one = distinct(staff.Staff, role="clerk", counter_only=True, rights=(), hours=())
    staff.add(c, one, "hash", one.pin_digits)
    staff.set_counter_only(c, one.id, hold=True)
    same(one, staff.list_staff(c)[one.id])
    assert staff.pin_hash(c, one.id) == "hash"
    staff.set_role_right(c, "clerk", "comp", allowed=True)
    assert staff.role_rights(c) == {("clerk", "comp"): True}
    assert staff.list_staff(c)[one.id].rights == (("comp", True),)


def a_sign_in(c: db.Connection) -> None:
    row = distinct(sign_in.SignInRow, ended_at=None, latest=0)
    sign_in.add(c, row)
    sign_in.seen(c, row.id, "just now")
    assert sign_in.read(c, row.id) == replace(row, seen_at="just now")
    sign_in.end(c, row.id, "later")
    sign_in.end(c, row.id, "later still")
    assert sign_in.read(c, row.id) == replace(row, seen_at="just now", ended_at="later")
    tries = distinct(sign_in.PinTries, wrong=6)
    sign_in.put_tries(c, "screen", "odile", tries)
    assert (sign_in.tries(c, "screen", "odile"), sign_in.tries(c, "other", "odile")) == (tries, None)
    assert sign_in.wrong_since(c, "") == [("odile", 6)]
    sign_in.forget_tries(c, "screen", "odile")
    assert sign_in.tries(c, "screen", "odile") is None


def a_till(c: db.Connection) -> None:
    one = distinct(till.Till, home="desk")
    till.add_till(c, one)
    same(one, till.list_tills(c)[one.id])


def a_day(c: db.Connection) -> None:
    day = till.add_day(c, "2026-06-13", "opened", "odile")
    began = distinct(till.FloatRow, till="galley", amount=150, difference="bank")
    till.add_float(c, day, began)
    assert till.floats_of(c, day) == {"galley": began}
    till.set_left(c, day, "galley", 77)
    assert (till.left_before(c, day + 1), till.left_before(c, day)) == ({"galley": 77}, {})
    banked = distinct(till.Banked, closing=True)
    till.add_banked(c, day, banked)
    assert till.banked_on(c, day) == [banked]
    counted = till.Count("galley", "wren", "then", '{"5": 3}', 15, 20)
    till.add_count(c, day, counted)
    assert till.counts_of(c, day) == {"galley": counted}
    tips = distinct(till.TipPaid)
    till.add_tip_paid(c, day, tips)
    assert till.tips_paid_on(c, day) == [tips]
    petty = distinct(till.Petty, direction="in")
    till.add_petty(c, day, petty)
    same(petty, till.petty_on(c, day)[0], id=...)
    till.put_petty_categories(c, ["ice", "change"])
    assert till.petty_categories(c) == ["ice", "change"]
    till.close_day(c, day, "closed", "wren")
    assert till.read_day(c, day) == till.AnyDay(day, "2026-06-13", "opened", "odile", "closed", "wren", {"galley": 150})


def the_settings(c: db.Connection) -> None:
    one = distinct(settings.Settings, currency=Currency.of("USD"), tax_mode="exclusive", region="US", tips_to="pool")
    settings.add(c, one)
    assert settings.read(c) == one
    settings.put_anonymous_accounts(c, ["Hatch", "Counter"])
    assert settings.anonymous_accounts(c) == ["Hatch", "Counter"]


def an_entry(c: db.Connection) -> None:
    number = a_ticket(c)
    entry = journal.Entry(
        0, "then", 1, "galley", "wren", number, None, Kind.PAID, {"amount": 5, "payer": "A"}, {"route": "cash"}
    )
    legs = (Posting("assets:cash:galley", 5), Posting("income:x", -5))
    tax = (Figure(FigureKind.TAX, "std", "VAT", 6, 7, 8),)
    made = journal.add(c, entry, Booked(legs, tax))
    same(entry, journal.of_ticket(c, number)[0], number=made, version=1)
    assert next(iter(journal.chain(c))).postings == legs
    assert figures.of_day(c, 1) == [figures.FigureRow("tax", "std", "VAT", "galley", "then", 6, 7, 8)]
    figures.seal(c, 1, "{}", 2, "head")
    assert (figures.sealed(c, [1, 2]), figures.sealed_before(c, 2), figures.head_of(c, 1)) == (
        {1: "{}"},
        "{}",
        (2, "head"),
    )
    journal.add_act(c, "key", "cash", "ticket 1", "then", "5")
    assert journal.read_act(c, "key") == journal.DoneAct("cash", "ticket 1", "5")


def a_slip(c: db.Connection) -> None:
    line = distinct(prep.SlipLine)
    slip = distinct(prep.Slip, kind="stop", done_at=None, done_by=None, lines=(line,), course=1)
    same(slip, prep.read(c, prep.add(c, slip)), id=...)


def a_sheet(c: db.Connection) -> None:
    outbox.add(c, outbox.NewSheet("then", outbox.PRINTER, "Receipt 1", "body", "ticket 1", "T1", "ada@example.org"))
    (found,) = outbox.waiting(c)
    assert (found.at, found.device, found.title, found.body, found.about) == (
        "then",
        outbox.PRINTER,
        "Receipt 1",
        "body",
        "ticket 1",
    )
    assert (found.barcode, found.recipient, found.copy) == ("T1", "ada@example.org", 1)


def small_ones(c: db.Connection) -> None:
    order = distinct(phone_orders.PhoneOrder, way="delivery")
    phone_orders.add(c, 5, order)
    assert phone_orders.read(c, 5) == order
    listed = distinct(prices.PriceList)
    prices.add_list(c, listed, 1, {"soup": 400})
    assert (prices.list_lists(c), prices.prices_of(c, listed.id)) == ([listed], {"soup": 400})
    preset = distinct(adjustments.Preset, kind="comp", amount=None, scope="both")
    adjustments.add_preset(c, preset, 1)
    assert adjustments.list_presets(c) == [preset]
    tender = distinct(tender_types.TenderType, kind="recorded")
    tender_types.add(c, tender)
    assert tender in tender_types.list_tenders(c)
    benefit = distinct(benefits.BenefitRow, item=None)
    benefits.add_benefit(c, benefit)
    assert benefits.read_benefit(c, benefit.id) == benefit
    kind = distinct(memberships.MembershipKind)
    memberships.add_kind(c, kind, 1)
    assert kind in memberships.list_kinds(c)
    category = distinct(catalogue.Category)
    catalogue.add_category(c, category, 1)
    assert category in catalogue.list_categories(c)
    family = distinct(stock.Family)
    stock.add_family(c, family)
    assert stock.read_family(c, family.id) == family
    c.execute("INSERT INTO drawer_count VALUES (5, 7, 'bar', 'ada', 'then', '{}', 900, 950)")
    drawer_sections.add(c, 7, "bar", "bo", Drawer(1, 2, 3, 4, 5, 6, 7))
    moved_so_far = Drawer(1, 2, 3, 4, 5, 6, 7)
    assert drawer_sections.of_day(c, 7) == [
        drawer_sections.Section("bar", "ada", "bo", "then", "{}", 900, 950, moved_so_far, 0)
    ]
    moved = distinct(stock.StockMove, why="bought")
    stock.add_move(c, moved)
    assert moved.petty is not None
    same(moved, *stock.moves_of_petty(c, moved.petty))
    counted = stock.GoodsCount("hat", "then", "7", "recount", "ada", "bar")
    stock.add_count(c, counted)
    same(
        counted,
        db.record(
            stock.GoodsCount, c.execute("SELECT item, at, quantity, reason, staff, till FROM stock_count").fetchone()
        ),
    )


def a_file(c: db.Connection) -> None:
    made = file_imports.add(c, distinct(file_imports.FileImport, kind=FileKind.PEOPLE), b"the file")
    file_imports.set_state(c, made, ImportState.WRITING, 40)
    file_imports.count(c, made, 30, 20, 10)
    assert (file_imports.data(c, made), file_imports.before(c, made + 1)) == (b"the file", 1)
    file_imports.end(c, made, ImportState.DONE, "later", "why")
    found = file_imports.read(c, made)
    assert found
    said = (found.name.split()[0], found.lender and found.lender.split()[0], found.state, found.entries, found.written)
    assert said == ("name", "lender", ImportState.DONE, 40, 30)
    assert (found.added, found.changed, found.known, found.fault, found.ended_at) == (20, 10, 10, "why", "later")
    assert file_imports.data(c, made) == b""


def a_pool(c: db.Connection) -> None:
    division = distinct(tip_pool.PoolDivision, measure=PoolMeasure.POINTS)
    shares = [tip_pool.PoolShare("ada", "7.5", 900), tip_pool.PoolShare("bo", "1", 120)]
    made = tip_pool.add(c, division, shares)
    same(division, tip_pool.read(c, made), id=made)
    assert tip_pool.on_day(c, division.day) == [tip_pool.read(c, made)]
    assert tip_pool.shares_of(c, made) == shares


def what_is_owed(c: db.Connection) -> None:
    first, second = (distinct(owed_standing.OwedStanding, kind=kind) for kind in ("deposit", "points"))
    owed_standing.add(c, 7, [first, second])
    owed_standing.add(c, 9, [dataclasses.replace(second, amount=0)])
    assert (owed_standing.until(c, 6), owed_standing.until(c, 8)) == ([], [first, second])
    assert owed_standing.until(c, 9) == [first, dataclasses.replace(second, amount=0)]


WRITTEN: list[Callable[[db.Connection], None]] = [
    a_line, a_head, a_charge, an_adjustment, a_payment, a_request, a_refund, a_correction, a_booking, a_merge, booking_terms, work_hours, a_walk_in, a_job,
    a_person, a_card, a_hold, a_stored_value, an_item, a_table, somebody, a_till, a_day, the_settings, an_entry, a_slip,
    a_sheet, a_series, a_membership, a_hire, an_account, an_invoice, a_statement_run, a_course, an_advance, own_facts, a_layaway, a_file, a_pool, what_is_owed, small_ones,
]  # fmt: skip


@pytest.mark.parametrize("write", WRITTEN, ids=lambda write: write.__name__)
def test_what_is_written_is_read_back(c: db.Connection, write: Callable[[db.Connection], None]) -> None:
    write(c)


def test_no_record_is_left_out() -> None:
    """The records of the store's modules are those that this file names, but for what is only put together in reading."""
    put_together = {
        "OnAccount", "HeldDeposit", "KeptDeposit", "AskedDeposit", "Wanted", "TicketRows", "Day", "ConnectionPool", "InUse", "FileState",
        "Standing", "Variant", "Handover", "Sheet", "PayerRow", "Moved",
        "Received", "Stood", "RunRow", "Latest", "MovedBy",
    }  # fmt: skip
    source = Path(__file__).read_text("utf-8")
    for file in sorted(Path(db.__file__).parent.glob("*.py")):
        module = import_module(f"abrazo.store.{file.stem}")
        for name, kind in inspect.getmembers(module, inspect.isclass):
            if kind.__module__ == module.__name__ and dataclasses.is_dataclass(kind) and name not in put_together:
                assert f".{name}" in source, f"{file.stem}.{name}"
