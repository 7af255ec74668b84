"""What happens by itself after a sale: once, whatever is killed, days later where that is wished, left out for one."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from types import SimpleNamespace
from typing import cast

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import ReceiptBy
from abrazo.desk.context import House
from abrazo.desk.doors import jobs
from abrazo.desk.output import after_sale, outbox
from abrazo.desk.payments import closing, reopening
from abrazo.desk.payments.after_sale import afterwards, leave_out, still_to_come
from abrazo.desk.people.people import known
from abrazo.desk.setup.after_sale import AFTER_SALE
from abrazo.desk.setup.things import retire
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.store import after_sale as kept
from abrazo.store import outbox as sheets
from abrazo.worker.worker import Worker
from tests.desk import scenes
from tests.desk.conftest import Desk
from tests.desk.setup.test_more_kinds import added, refused
from tests.desk.test_both_houses import pay, sale, somebody

DAY = 24 * 3600
LATER = {
    "name": ["A word back"],
    "does": ["message"],
    "days": ["2"],
    "clock": ["10:00"],
    "words": ["Hello [name]. [house]"],
}


def outcomes(desk: Desk, ticket: int) -> list[str]:
    return [str(one.outcome) for one in kept.of_ticket(desk.house.connection, ticket)]


def receipts(desk: Desk, ticket: int) -> list[sheets.Sheet]:
    about = f"receipt {desk.whole(ticket).head.number} "
    return [one for one in sheets.latest(desk.house.connection, 50) if one.about.startswith(about)]


def messages(desk: Desk) -> list[sheets.Sheet]:
    return [one for one in sheets.latest(desk.house.connection, 50) if one.device == sheets.MESSAGE]


def test_a_receipt_prints_by_itself_once_and_a_message_goes_out_days_later(both: Desk) -> None:
    for one in both.house.connection.execute("SELECT id FROM after_sale").fetchall():
        retire(both.house, both.boss, AFTER_SALE, one[0])
    added(both, AFTER_SALE, {"name": ["Receipt"], "does": ["receipt"]})
    added(both, AFTER_SALE, LATER)
    number = sale(both, [both.of.goods], somebody(both))
    pay(both, number)
    assert after_sale.do_what_is_due(both.house) == 1
    assert [one.copy for one in receipts(both, number)] == [1]
    assert str(both.whole(number).head.number) in both.house.devices.printer.shown()
    assert after_sale.do_what_is_due(both.house) == 0 and messages(both) == []
    both.clock.on(DAY)
    assert after_sale.do_what_is_due(both.house) == 0
    both.clock.on(DAY)
    assert after_sale.do_what_is_due(both.house) == 1
    first_name = known(both.house, both.whole(number).head.person or 0).first_name
    assert [one.body for one in messages(both)] == [f"Hello {first_name}. {both.house.settings.name}"]
    assert after_sale.do_what_is_due(both.house) == 0
    assert outcomes(both, number) == ["done", "done"]


def test_what_is_left_out_does_not_happen_and_what_was_done_by_hand_is_not_done_again(desk: Desk) -> None:
    receipt = added(desk, AFTER_SALE, {"name": ["Receipt"], "does": ["receipt"]})
    drawer = added(desk, AFTER_SALE, {"name": ["Drawer"], "does": ["drawer"], "sources": ["counter"]})
    first, second, third = (sale(desk, [desk.of.food]) for _ in range(3))
    assert [(one.action, one.left_out) for one in afterwards(desk.house, first)] == [(receipt, False), (drawer, False)]
    leave_out(desk.house, desk.tamsin, first, receipt, "out")
    leave_out(desk.house, desk.tamsin, first, receipt, "out")
    leave_out(desk.house, desk.tamsin, first, drawer, "out-2")
    leave_out(desk.house, desk.tamsin, first, drawer, "back", out=False)
    pay(desk, first)
    pay(desk, second, close=False)
    outbox.print_receipt(desk.house, desk.tamsin, second, desk.whole(second).payers[0].id, "by hand")
    closing.free_table(desk.house, desk.tamsin, desk.on(second))
    assert outcomes(desk, first) == ["left out", ""]
    after_sale.do_what_is_due(desk.house)
    assert outcomes(desk, first) == ["left out", "done"]
    assert outcomes(desk, second) == ["not needed", "done"]
    with pytest.raises(Refused) as refusal:
        leave_out(desk.house, desk.tamsin, second, receipt, "late")
    assert refusal.value.code is Code.TICKET_CLOSED
    pay(desk, third, close=False)
    after_sale.print_at_counter(desk.house, desk.tamsin, third, "paid")  # which does not wait for the next customer
    after_sale.print_at_counter(desk.house, desk.tamsin, third, "paid")
    assert len(receipts(desk, third)) == 1
    who = somebody(desk)
    for likes in (ReceiptBy.EMAIL, ReceiptBy.NONE):  # their own way comes first, also when they want none
        outbox.prefer(desk.house, who, likes)
        theirs = sale(desk, [desk.of.food], who)
        assert receipt not in [one.action for one in afterwards(desk.house, theirs)]


def test_a_message_of_a_later_day_is_stopped_until_then_though_its_ticket_has_ended(both: Desk) -> None:
    message, who = added(both, AFTER_SALE, LATER), somebody(both)
    first, second = (sale(both, [both.of.goods], who) for _ in range(2))
    assert still_to_come(both.house, first) == []
    for number in (first, second):
        pay(both, number)
    due = {one.action: one for one in still_to_come(both.house, first)}
    assert not due[message].left_out and due[message].at > both.house.stamp(timedelta(days=1))
    for _ in range(2):
        leave_out(both.house, both.boss, first, message, "stop")
    leave_out(both.house, both.boss, second, message, "stop-2")
    leave_out(both.house, both.boss, second, message, "go", out=False)
    assert [one.left_out for one in still_to_come(both.house, first) if one.action == message] == [True]
    both.clock.on(2 * DAY)
    after_sale.do_what_is_due(both.house)
    ends = [{one.action: one.outcome for one in kept.of_ticket(both.house.connection, n)} for n in (first, second)]
    assert [one[message] for one in ends] == ["left out", "done"]
    for number, out in ((first, False), (second, True)):  # too late for either
        with pytest.raises(Refused) as refusal:
            leave_out(both.house, both.boss, number, message, f"late {number}", out=out)
        assert refusal.value.code is Code.TICKET_CLOSED


def test_it_survives_a_kill_and_a_closed_day(desk: Desk) -> None:
    added(desk, AFTER_SALE, {"name": ["Receipt"], "does": ["receipt"]})
    number = sale(desk, [desk.of.food])
    pay(desk, number)
    desk.die()
    assert after_sale.do_what_is_due(desk.house) == 1
    assert outcomes(desk, number) == ["done"]
    desk.house.connection.execute(
        "UPDATE after_sale_task SET outcome = '', done_at = NULL"
    )  # killed before it was said
    assert after_sale.do_what_is_due(desk.house) == 1
    assert len(receipts(desk, number)) == 1


def test_what_is_retired_late_void_or_opened_again_is_not_done_twice_or_at_all(desk: Desk) -> None:
    later = added(desk, AFTER_SALE, LATER)
    receipt = added(desk, AFTER_SALE, {"name": ["Receipt"], "does": ["receipt"]})
    added(desk, AFTER_SALE, {"name": ["Drawer"], "does": ["drawer"]})
    who = somebody(desk)
    again, void, late = (sale(desk, [desk.of.food], who) for _ in range(3))
    for number in (again, void, late):
        pay(desk, number)
    after_sale.do_what_is_due(desk.house)
    reopening.reopen(desk.house, desk.boss, desk.on(again), "wrong tender")
    assert [(one.action, one.left_out) for one in afterwards(desk.house, again)] == [
        (later, False)
    ]  # the rest was done
    leave_out(desk.house, desk.tamsin, again, later, "not this one")
    closing.free_table(desk.house, desk.tamsin, desk.on(again))
    reopening.void(desk.house, desk.boss, desk.on(void), "a mistake")
    desk.clock.on(3 * DAY)
    after_sale.do_what_is_due(desk.house)
    assert [outcomes(desk, number)[0] for number in (again, void, late)] == ["left out", "not needed", "done"]
    assert len(messages(desk)) == 1 and len(receipts(desk, again)) == 1
    too_late, retired = sale(desk, [desk.of.food], who), sale(desk, [desk.of.food], who)
    pay(desk, too_late)
    desk.clock.on(6 * DAY)
    after_sale.do_what_is_due(desk.house)
    assert outcomes(desk, too_late) == ["not needed"] * 3
    pay(desk, retired)
    after_sale.do_what_is_due(desk.house)
    retire(desk.house, desk.boss, AFTER_SALE, later)
    desk.clock.on(2 * DAY)
    after_sale.do_what_is_due(desk.house)
    assert outcomes(desk, retired) == ["not needed", "done", "done"] and len(messages(desk)) == 1
    by_itself = sale(desk, [desk.of.food])
    pay(desk, by_itself, close=False)
    closing.free_table(desk.house, replace(desk.tamsin, by_itself=True), desk.on(by_itself))
    assert [one.action for one in kept.of_ticket(desk.house.connection, by_itself)] == [receipt]


def test_a_job_that_is_ready_leaves_with_its_ticket(desk: Desk) -> None:
    added(desk, AFTER_SALE, {"name": ["Hand over"], "does": ["hand over"]})
    who = somebody(desk)
    settled = []
    for ready in (True, False):
        job, _ = scenes.dropped(desk, who)
        if ready:
            jobs.mark(desk.house, desk.boss, job, "ready", desk.key())
        number = jobs.settle(desk.house, desk.boss, [job], desk.key())
        assert [one.name for one in afterwards(desk.house, number)][-1] == "Hand over"
        scenes.pay(desk, number)
        settled.append((job, number))
    after_sale.do_what_is_due(desk.house)
    assert [outcomes(desk, number)[-1] for _, number in settled] == ["done", "not needed"]
    here = [sum(one.here(task) for task in one.tasks) for one in (jobs.read_job(desk.house, job) for job, _ in settled)]
    assert here[0] == 0 < here[1]


def test_one_that_cannot_be_done_keeps_no_other_waiting(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    added(desk, AFTER_SALE, {"name": ["Receipt"], "does": ["receipt"]})
    first, second = sale(desk, [desk.of.food]), sale(desk, [desk.of.food])
    for number in (first, second):
        pay(desk, number)

    def broken(house: House, number: int) -> TicketSnapshot:
        if number == first:
            raise RuntimeError
        return load_ticket(house, number)

    monkeypatch.setattr(after_sale, "load_ticket", broken)
    worker = cast(Worker, SimpleNamespace(house=desk.house))
    with pytest.raises(RuntimeError):
        Worker._do_what_is_due(worker)
    Worker._do_what_is_due(worker)
    assert [outcomes(desk, number) for number in (first, second)] == [["failed"], ["done"]]


def test_bad_input_is_refused_beside_its_field(desk: Desk) -> None:
    refused(desk, AFTER_SALE, LATER | {"words": ["Hello [phone]"]}, Code.STRANGE_BRACKETS, "words")
    refused(desk, AFTER_SALE, LATER | {"words": [""]}, Code.FIELD_MISSING, "words")
    refused(desk, AFTER_SALE, LATER | {"does": ["receipt"]}, Code.ONLY_MESSAGES_LATER, "days")
    refused(desk, AFTER_SALE, LATER | {"days": ["400"]}, Code.FIELD_RANGE, "days")
