"""Every record of the store is written and read back, with a distinct value in every column."""

from __future__ import annotations

import dataclasses
import inspect
from collections.abc import Callable
from dataclasses import replace
from importlib import import_module
from pathlib import Path

import pytest

from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.journal import Kind
from abrazo.core.ledger import Posting
from abrazo.core.money import Currency
from abrazo.core.states import (
    AfterSale,
    AfterSaleOutcome,
    BookingState,
    FileKind,
    HeldKind,
    ImportState,
    PlanOutcome,
    PoolMeasure,
    WalkInState,
)
from abrazo.core.till import Drawer
from abrazo.store import (
    accounts,
    adjustments,
    after_sale,
    benefits,
    bookings,
    brought,
    cards,
    catalogue,
    db,
    debits_back,
    drawer_sections,
    figures,
    file_imports,
    holds,
    jobs,
    journal,
    logo,
    memberships,
    merging,
    outbox,
    owed_standing,
    people,
    phone_orders,
    prep,
    prices,
    room,
    series,
    set_up,
    set_up_plans,
    settings,
    sign_in,
    staff,
    stock,
    stored_value,
    tender_types,
    till,
    tip_pool,
)
from tests.store import record_helpers, records_of_tickets
from tests.store.record_helpers import a_ticket, distinct, same
from tests.store.records_of_tickets import (
    a_charge,
    a_correction,
    a_course,
    a_head,
    a_hire,
    a_layaway,
    a_line,
    a_membership,
    a_payment,
    a_refund,
    a_request,
    a_series,
    a_statement_run,
    an_account,
    an_adjustment,
    an_advance,
    an_invoice,
    own_facts,
)


@pytest.fixture
def c(connection: db.Connection) -> db.Connection:
    connection.execute("PRAGMA foreign_keys = OFF")
    return connection


def a_booking(c: db.Connection) -> None:
    booking = distinct(
        bookings.Booking, state="here", ticket=None, addons=("towel", "wax"), deposit=0, reason="", party=3, paid=False
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
    one = distinct(staff.Staff, role="clerk", counter_only=False, in_training=False, rights=(), hours=(), ended_at=None)
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
    back = distinct(debits_back.DebitBack)
    debits_back.add(c, back)
    assert debits_back.of_ticket(c, back.ticket) == [back]
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
    one = distinct(staff.Staff, role="clerk", counter_only=True, in_training=False, rights=(), hours=(), ended_at=None)
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
    one = distinct(till.Till, begins="counter mode", home="desk", ended_at=None)
    till.add_till(c, one)
    same(one, till.list_tills(c)[one.id])


def a_change_of_set_up(c: db.Connection) -> None:
    change = distinct(set_up.SetUpChange, what="changed", before={"price": 1}, after={"price": 2})
    same(change, set_up.read_change(c, set_up.add_change(c, change)), id=...)
    assert (
        set_up.changes_of_one(c, [change.thing], change.ref)
        == set_up.changes_of(c, change.thing)
        == set_up.latest(c, 9)
    )


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
    one = distinct(
        settings.Settings,
        currency=Currency.of("USD"),
        tax_mode="exclusive",
        region="US",
        tips_to="pool",
        mail_security="tls",
    )
    settings.add(c, one)
    assert settings.read(c) == one
    settings.put_anonymous_accounts(c, ["Hatch", "Counter"])
    assert settings.anonymous_accounts(c) == ["Hatch", "Counter"]


def a_plan_of_set_up(c: db.Connection) -> None:
    who = {"staff": "odile", "till": "galley", "outcome": ""}
    planned = distinct(set_up_plans.PlannedChange, id=1, fields={"price": 5}, **who)
    assert set_up_plans.add(c, planned) == 1
    assert set_up_plans.read(c, 1) == planned
    assert set_up_plans.due(c, planned.first_on) == set_up_plans.of_one(c, planned.thing, planned.ref) == [planned]
    assert set_up_plans.end(c, 1, "then", PlanOutcome.REFUSED) and not set_up_plans.end(c, 1, "then", PlanOutcome.MADE)
    assert [one.outcome for one in set_up_plans.shown(c)] == [PlanOutcome.REFUSED]
    set_up_plans.seen(c, 1)
    assert set_up_plans.shown(c) == set_up_plans.due(c, "z") == []


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
    action = distinct(after_sale.AfterSaleRow, does=AfterSale.MESSAGE, days=3, ended_at=None)
    after_sale.add(c, action, 1)
    assert after_sale.action(c, action.id) == action and after_sale.actions(c)[-1] == action
    task = after_sale.AfterSaleTask(0, a_ticket(c), action.id, "tamsin", "galley", "then", None)
    after_sale.plan(c, task)
    (found,) = after_sale.of_ticket(c, task.ticket)
    assert dataclasses.replace(found, id=0) == task
    assert after_sale.end(c, found.id, AfterSaleOutcome.DONE, "later")
    assert not after_sale.end(c, found.id, AfterSaleOutcome.FAILED, "later")
    assert after_sale.of_ticket(c, task.ticket)[0].outcome is AfterSaleOutcome.DONE
    first, second = logo.add(c, b"a", 1, 2, "then"), logo.add(c, b"b", 3, 4, "later")
    assert (logo.read(c), logo.which_prints(c)) == (b"", 0)
    for one, image in ((first, b"a"), (second, b"b"), (0, b"")):
        logo.print_from_now(c, one)
        assert (logo.read(c), logo.which_prints(c)) == (image, one)
    assert [tuple(one) for one in logo.sizes(c)] == [(first, 1, 2), (second, 3, 4)]
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


def what_was_brought_in(c: db.Connection) -> None:
    file = distinct(brought.BroughtIn, kind=HeldKind.SERIES, taken_back_at=None, taken_back_by=None)
    number = brought.add(c, file)
    same(file, brought.read(c, number), id=...)
    assert brought.latest(c, 5) == [brought.read(c, number)]
    brought.take_back(c, dataclasses.replace(file, id=number), "then", "odile")
    back = brought.read(c, number)
    assert back and (back.taken_back_at, back.taken_back_by) == ("then", "odile")
    person = distinct(people.Person, company=True, account=False, birthday=None, household=None)
    who = people.add(c, person, "mill")
    assert list(brought.people(c)) == [brought.Known(who, person.name, person.phone, company=True)]
    one = distinct(
        series.Series, line=None, ticket=None, number=None, items=(), had_before=2, gone=(1, 2), uses=5, net=900,
        in_books=900,
    )  # fmt: skip
    catalogue.add_item(c, distinct(catalogue.Item, id=one.item, name=one.name), 1, ())
    series.bring(c, one)
    same(one, series.sold(c)[0], id=...)


WRITTEN: list[Callable[[db.Connection], None]] = [
    a_line, a_head, a_charge, an_adjustment, a_payment, a_request, a_refund, a_correction, a_booking, a_merge, booking_terms, work_hours, a_walk_in, a_job,
    a_person, a_card, a_hold, a_stored_value, an_item, a_table, somebody, a_till, a_day, a_change_of_set_up, a_plan_of_set_up, the_settings, an_entry, a_slip,
    a_sheet, a_series, a_membership, a_hire, an_account, an_invoice, a_statement_run, a_course, an_advance, own_facts, a_layaway, a_file, a_pool, what_was_brought_in, what_is_owed, small_ones,
]  # fmt: skip


@pytest.mark.parametrize("write", WRITTEN, ids=lambda write: write.__name__)
def test_what_is_written_is_read_back(c: db.Connection, write: Callable[[db.Connection], None]) -> None:
    write(c)


def test_no_record_is_left_out() -> None:
    """The records of the store's modules are those that this file names, but for what is only put together in reading."""
    put_together = {
        "OnAccount", "HeldDeposit", "KeptDeposit", "AskedDeposit", "Wanted", "TicketRows", "Day", "ConnectionPool", "InUse", "FileState",
        "Standing", "Variant", "Handover", "Sheet", "PayerRow", "Moved",
        "Received", "Stood", "Export", "RunRow", "Latest", "MovedBy",
    }  # fmt: skip
    files = (__file__, record_helpers.__file__, records_of_tickets.__file__)
    source = "".join(Path(file).read_text("utf-8") for file in files)
    for file in sorted(Path(db.__file__).parent.glob("*.py")):
        module = import_module(f"abrazo.store.{file.stem}")
        for name, kind in inspect.getmembers(module, inspect.isclass):
            if kind.__module__ == module.__name__ and dataclasses.is_dataclass(kind) and name not in put_together:
                assert f".{name}" in source, f"{file.stem}.{name}"
