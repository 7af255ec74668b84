"""Records of tickets, what was paid ahead and what is owed: written and read back. Run by test_records.py."""

from __future__ import annotations

import dataclasses
import sqlite3
from dataclasses import replace

import pytest

from abrazo.core.advances import AdvanceTax
from abrazo.core.ledger import Role
from abrazo.core.states import (
    BookingState,
    InvoiceKind,
    OwnAbout,
    RowKind,
    StatementOutcome,
)
from abrazo.store import (
    accounts,
    adjustments,
    advances,
    bookings,
    catalogue,
    charges,
    corrections,
    courses,
    db,
    guests,
    hires,
    invoices,
    layaways,
    lines,
    memberships,
    own_fields,
    people,
    series,
    set_up,
    statement_runs,
    tenders,
    ticket,
)
from tests.store.record_helpers import a_ticket, distinct, rows, same


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
    kind, sells = distinct(memberships.MembershipKind), distinct(memberships.MembershipItem, ended=False)
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
    for ref, name, choices in (("1", "Kind", '["boat", "board"]'), ("2", "Mast", "[]")):
        set_up.put(c, "own_field", ref, {"about": "job", "name": name, "choices": choices, "prints": name == "Kind"})
    kind, mast = own_fields.fields(c)
    assert kind == own_fields.OwnField(kind.id, OwnAbout.JOB, "Kind", ("boat", "board"), True)
    own_fields.put_values(c, 7, {kind.id: "boat", mast.id: "tall"})
    set_up.put(c, "own_field", "1", {"ended_at": "later"})
    assert own_fields.said(c, OwnAbout.JOB, 7) == [(mast, "tall")]
    set_up.put(c, "own_field", "1", {"ended_at": None, "choices": "[]"})
    assert [value for _, value in own_fields.said(c, OwnAbout.JOB, 7)] == ["boat", "tall"]  # as it was said
    own_fields.put_values(c, 7, {mast.id: ""})
    assert [value for _, value in own_fields.said(c, OwnAbout.JOB, 7)] == ["boat", ""]
    assert not own_fields.said(c, OwnAbout.PERSON, 7)


def a_layaway(c: db.Connection) -> None:
    number = a_ticket(c)
    aside = layaways.Layaway(number, 1001, "2026-08-12", 700, "then", "wren", prefix="LA-", taxed=True)
    layaways.add(c, aside)
    for taxes in ([AdvanceTax("full", 400, 75), AdvanceTax("less", 300, 25)], [AdvanceTax("full", 700, 131)]):
        layaways.set_taxes(c, number, taxes)
        assert layaways.taxes_of(c, number) == taxes
    assert layaways.held_tax(c) == 131
    layaways.hold(c, number, 700)
    assert layaways.of_ticket(c, number) == layaways.by_number(c, "LA", aside.number) == aside
    assert layaways.kept(c) == layaways.of_person(c, 4) == layaways.holding(c) == [aside]
    assert (ticket.list_open(c), rows(c, number).head.set_aside) == ([], "2026-08-12")
    assert ticket.list_for_today(c, "2026-08-13") == [number] != ticket.list_for_today(c, "2026-08-12")
    layaways.end(c, number, "later", cancelled=True)
    layaways.renumber(c, number, 78)
    ended = dataclasses.replace(aside, held=0, ended_at="later", cancelled=True)
    assert (layaways.of_ticket(c, number), rows(c, number).head.number) == (ended, 78)
    assert layaways.kept(c) == layaways.holding(c) == []


def a_hire(c: db.Connection) -> None:
    kind, unit = distinct(hires.HireKind, ended=False), distinct(hires.Unit)
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
    same(dataclasses.replace(wanted, charged_on=number), found, id=made, number=wanted.number)
    assert [
        hires.by_number(c, wanted.prefix, wanted.number),
        *hires.on_ticket(c, number),
        *hires.of_person(c, wanted.person),
    ] == [found] * 3
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
