"""Match by route in a house: silent charges, payments that were only recorded, a machine out of reach."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.payments import closing, tenders
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import payouts
from abrazo.desk.till.views.matching import Matched, match_day
from abrazo.devices.ports import Unreachable
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_corrections import closed
from tests.desk.payments.test_stored_value import keyed, visit
from tests.desk.payments.test_tenders import ask, one_payer


def matched(desk: Desk) -> Matched:
    return match_day(desk.house, desk.house.day().id)


def test_what_was_charged_and_given_back_agrees(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.follow()
    tenders.take_back(desk.house, desk.tamsin, desk.on(number), desk.whole(number).taken[0].id)
    desk.follow()
    ask(desk, number, payer)
    desk.follow()
    sale, sale_payer, _ = visit(desk)
    keyed(desk, sale, sale_payer, 700)
    desk.follow()
    found = matched(desk)
    assert (found.wrong, [(r.name, r.number, r.ours) for r in found.routes if r.number]) == (
        0,
        [(MACHINE, 3, 980), ("payment service", 1, 700)],
    )


def test_each_mismatch_has_its_cause_and_remedy(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.tell("silent, charged")
    ask(desk, number, payer)
    desk.follow()
    desk.tell()
    machines = desk.house.devices.machines
    machines["card machine 2"].start("by hand", 1234)
    seen, _ = visit(desk)[:2]
    recorded_ticket = desk.whole(seen)
    version, who = recorded_ticket.head.version, recorded_ticket.payers[0].id
    tenders.record(
        desk.house,
        desk.tamsin,
        OnTicket(seen, version, desk.key()),
        who,
        tenders.Recorded(700, "card elsewhere", "0417"),
    )
    found = matched(desk)
    assert [(one.remedy, one.ours, one.theirs) for route in found.routes for one in route.mismatches] == [
        ("ask", None, 980),
        ("find", None, 1234),
        ("correct", 700, None),
    ]
    desk.settle_unknown(number)
    assert matched(desk).wrong == 2


def test_a_machine_out_of_reach_is_said(desk: Desk) -> None:
    closed(desk, "card")

    class Gone:
        name = MACHINE

        def batch(self) -> str:
            raise Unreachable("card machine 1 cannot be reached")

    desk.house.devices.machines[MACHINE] = Gone()  # type: ignore[index]  # a mapping that is a dict here
    (route,) = [one for one in matched(desk).routes if one.name == MACHINE]
    assert (route.ours, "cannot be reached" in route.fault) == (980, True)


def test_a_batch_file_that_was_brought_along_is_compared_instead(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.follow()
    machine = desk.house.devices.machines[MACHINE]
    machine.batch()
    (file,) = [one for one in desk.folder.glob("*.batch.csv") if one.stat().st_size > 60]
    desk.tell(down=True)
    day = desk.house.day().id
    route = match_day(desk.house, day, {MACHINE: file.read_text("utf-8")}).routes[0]
    assert (route.by_file, route.fault, route.mismatches, route.ours) == (True, "", [], 980)
    wrong = match_day(desk.house, day, {MACHINE: "a,b\n1,2\n"}).routes[0]
    assert wrong.by_file and "has no column" in wrong.fault


def test_a_payout_and_its_fee_empty_what_waits_and_what_is_old_is_said(desk: Desk) -> None:
    """9.80 charged six days ago, 9.80 today: of what waits the older half is late, until a payout comes for it."""
    for days in (6, 0):
        number, payer = one_payer(desk)
        ask(desk, number, payer)
        desk.follow()
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
        desk.clock.time += timedelta(days=days)
    waits = payouts.clearing(desk.house, [MACHINE])[MACHINE]
    assert (waits.waits, waits.old) == (1960, 980)
    for arrived, fee, code in ((1960, 1, Code.MORE_THAN_WAITS), (0, 0, Code.NO_AMOUNT), (5, -1, Code.NEGATIVE_TOTAL)):
        with pytest.raises(Refused) as refusal:
            payouts.receive_payout(desk.house, desk.boss, MACHINE, (arrived, fee), desk.key())
        assert refusal.value.code == code
    with pytest.raises(Refused):
        payouts.receive_payout(desk.house, desk.tamsin, MACHINE, (900, 80), desk.key())
    for _ in range(2):
        payouts.receive_payout(desk.house, desk.boss, MACHINE, (960, 20), "the same key")
    waits = payouts.clearing(desk.house, [MACHINE])[MACHINE]
    assert (waits.waits, waits.old) == (980, 0)
    assert (desk.balance("assets:bank"), desk.balance("expenses:fees:card-machine-1")) == (960, 20)
    holds(desk)
