"""Match by route in a house: silent charges, payments that were only recorded, a machine out of reach."""

from __future__ import annotations

from abrazo.desk.payments import tenders
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till.views.matching import Matched, match_day
from abrazo.devices.ports import Unreachable
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
