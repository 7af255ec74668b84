"""What holds for every act: once for one request, bound to its kind and thing, and only what its actor may touch."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Source, StaffRole
from abrazo.desk import permissions
from abrazo.desk.context import Actor, NotFound, Stale
from abrazo.desk.doors import counter, jobs
from abrazo.desk.output import outbox
from abrazo.desk.payments import card_poller, closing, tenders
from abrazo.desk.stock import stock
from abrazo.desk.tickets import moving, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.starting import TicketOrigin
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till import petty_cash
from abrazo.devices.ports import NoAnswer
from abrazo.store import journal
from abrazo.store import outbox as outbox_store
from tests.desk.conftest import Desk
from tests.desk.payments.test_tenders import ask, one_payer
from tests.desk.scenes import dropped, person, wren
from tests.refusals import refuses


def test_a_key_for_something_else_is_refused(desk: Desk) -> None:
    """The same key for a payment elsewhere answered 'done' and kept nothing."""
    first, payer = one_payer(desk)
    second = starting.seat(desk.house, desk.tamsin, "G3", 1, desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(second, None, desk.key()), Picked("lemon-posset"))
    other = desk.whole(second).payers[0].id
    tenders.take_cash(desk.house, desk.tamsin, desk.on(first, "one key"), payer, tenders.Sum(980), 980)
    for act in (
        lambda: tenders.take_cash(desk.house, desk.tamsin, desk.on(second, "one key"), other, tenders.Sum(620), 620),
        lambda: closing.free_table(desk.house, desk.tamsin, OnTicket(first, None, "one key")),
        lambda: petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("out", 100, "ice"), "one key"),
        lambda: stock.count_goods(desk.house, desk.boss, "enamel-mug", "3", "recount", "one key"),
        lambda: outbox.print_receipt(desk.house, desk.tamsin, first, payer, "one key"),
    ):
        with refuses("This page has expired"):
            act()
    assert (desk.whole(second).bill.paid, desk.cash(), len(desk.whole(first).taken)) == (0, 980, 1)


def test_a_version_that_is_still_to_come_is_stale(desk: Desk) -> None:
    number, payer = one_payer(desk)
    with pytest.raises(Stale):
        tenders.take_cash(
            desk.house,
            desk.tamsin,
            OnTicket(number, desk.version(number) + 1, desk.key()),
            payer,
            tenders.Sum(980),
            980,
        )
    assert desk.whole(number).bill.paid == 0


def test_a_charge_is_stopped_and_asked_about_on_its_own_ticket_by_somebody(desk: Desk) -> None:
    number, payer = one_payer(desk)
    other = starting.seat(desk.house, desk.tamsin, "G3", 1, desk.key())
    desk.tell("silent, charged")
    reference = ask(desk, number, payer)
    desk.follow()
    for act in (card_poller.stop_card, card_poller.ask_again):
        with pytest.raises(NotFound):
            act(desk.house, desk.tamsin, other, reference)
    desk.tell()
    card_poller.stop_card(desk.house, desk.jory, number, reference)
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    said = [(one.kind, one.staff) for one in journal.of_ticket(desk.house.connection, number)]
    assert (Kind.CARD_STOP_ASKED, "jory") in said
    assert (Kind.CARD_ASKED_AGAIN, "tamsin") in said


def test_who_is_held_to_the_counter_reaches_no_other_ticket(desk: Desk) -> None:
    """By the counter's own forms, and as the target of a move."""
    table, payer = one_payer(desk)
    sale = starting.open_counter(desk.house, desk.jory, desk.key())
    ticket_lines.add_line(desk.house, desk.jory, OnTicket(sale, None, desk.key()), Picked("cardamom-bun"))
    line = desk.whole(table).standing[0].id
    counter.hold_person(desk.house, desk.boss, "jory", True)
    version = desk.version(table)
    acts: dict[str, Callable[[], object]] = {
        "note": lambda: counter.take_note(desk.house, desk.jory, OnTicket(table, version, desk.key()), 980),
        "strike": lambda: counter.take_off(desk.house, desk.jory, OnTicket(table, version), line),
        "cash": lambda: tenders.take_cash(
            desk.house, desk.jory, OnTicket(table, version, desk.key()), payer, tenders.Sum(980), 980
        ),
        "remove": lambda: ticket_lines.remove_line(desk.house, desk.jory, OnTicket(table, version), line),
        "merge": lambda: moving.merge(desk.house, desk.jory, desk.on(sale), table),
        "take in": lambda: moving.merge(desk.house, desk.jory, OnTicket(table, version, desk.key()), sale),
        "to table": lambda: moving.to_table(desk.house, desk.jory, desk.on(sale), "G3"),
        "to busy": lambda: moving.to_table(desk.house, desk.jory, desk.on(sale), "G2"),
    }
    before = desk.whole(table), desk.whole(sale)
    for name, act in acts.items():
        with pytest.raises(Refused) as refusal:
            act()
        assert refusal.value.code in (Code.NOT_A_COUNTER_SALE, Code.STAYS_AT_COUNTER, Code.OTHER_SALE), name
    assert (desk.whole(table), desk.whole(sale)) == before
    counter.take_note(desk.house, desk.jory, desk.on(sale), 500)
    assert desk.whole(sale).bill.due == 0


def test_a_paper_goes_out_once_whoever_sends_it(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """The request and the thread beside it both send what waits: each sheet is claimed by one of them."""
    number, payer = one_payer(desk)
    printer = desk.house.devices.printer
    put, sent = printer.put, []

    def slow(title: str, data: bytes) -> None:
        sent.append(title)
        if len(sent) == 1:  # the other sender comes by while this one is at the printer
            outbox.send_waiting(desk.house)
        put(title, data)

    monkeypatch.setattr(printer, "put", slow)
    outbox.print_receipt(desk.house, desk.tamsin, number, payer, desk.key())
    assert (len(sent), printer.shown().count("ticket 2101")) == (1, 1)


def test_what_may_have_gone_out_is_shown_and_never_sent_again_by_itself(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    number, payer = one_payer(desk)
    post = desk.house.devices.post

    def silent(number: int, recipient: str, title: str, body: str) -> None:
        raise NoAnswer("nothing came back")

    with monkeypatch.context() as lost:
        lost.setattr(post, "send", silent)
        outbox.text_receipt(desk.house, desk.tamsin, number, payer, "020 910 0199", desk.key())
    assert outbox.doubtful(desk.house) == []  # it may still be on its way
    desk.clock.on(31)
    for _ in range(2):
        outbox.send_waiting(desk.house)
    (sheet,) = outbox.doubtful(desk.house)
    assert (post.delivered(), sheet.sent_at) == ([], None)
    outbox.settle_doubt(desk.house, desk.tamsin, sheet.id, again=True)
    assert (len(post.delivered()), outbox.doubtful(desk.house)) == (1, [])
    with pytest.raises(NotFound):
        outbox.settle_doubt(desk.house, desk.tamsin, sheet.id, again=True)


def test_a_sender_that_died_leaves_its_paper_in_doubt(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.house.devices.printer.paper_out = True
    with pytest.raises(Refused):
        outbox.print_receipt(desk.house, desk.tamsin, number, payer, desk.key())
    (sheet,) = outbox_store.waiting(desk.house.connection)
    assert outbox_store.claim(desk.house.connection, sheet.id, desk.house.stamp())
    desk.die()
    desk.clock.on(31)
    assert outbox.send_waiting(desk.house) == 0
    assert [one.id for one in outbox.doubtful(desk.house)] == [sheet.id]
    outbox.settle_doubt(desk.house, desk.tamsin, sheet.id, again=False)
    assert (desk.house.devices.printer.shown(), outbox.doubtful(desk.house)) == ("", [])


def test_the_same_drop_off_or_hand_over_again_changes_nothing(desk: Desk) -> None:
    job, _ = dropped(desk, person(desk), key="once and again")
    assert dropped(desk, person(desk), key="once and again")[0] == job
    with refuses("expired"):
        jobs.mark(desk.house, wren(desk), job, "ready", "once and again")
    with refuses("expired"):
        starting.open_ticket(
            desk.house,
            wren(desk),
            TicketOrigin(Source.COUNTER),
            starting.Beginning(Kind.COUNTER_SALE),
            "once and again",
        )


def test_whoever_lacks_a_right_is_refused_and_borrows_only_what_is_lent(desk: Desk) -> None:
    """Every right of the table, by each role; a lender who lacks it lends nothing."""
    people = desk.house.staff()
    odile, tamsin, wren = people["odile"], people["tamsin"], people["wren"]
    till = desk.tamsin.till
    for right, rule in permissions.RIGHTS.items():
        assert permissions.need(Actor(odile, till), right) is None
        if StaffRole.SERVER in rule.roles:  # what everybody does all day
            assert permissions.need(Actor(tamsin, till), right) is None
            continue
        for worker in (tamsin, wren):
            for lender in (None, wren):
                with pytest.raises(Refused) as refused:
                    permissions.need(Actor(worker, till, lender=lender), right)
                assert (refused.value.code, refused.value.where) == (rule.refusal, rule.where)
            borrowed = Actor(worker, till, lender=odile)
            if rule.lent:
                assert permissions.need(borrowed, right) == "odile"
            else:
                with pytest.raises(Refused):
                    permissions.need(borrowed, right)
    assert set(permissions.RIGHTS) == set(permissions.Right)
