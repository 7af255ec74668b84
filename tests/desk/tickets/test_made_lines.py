"""What was sent or billed goes only by right, with a reason: no party vanishes."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor
from abrazo.desk.output import outbox
from abrazo.desk.payments import closing
from abrazo.desk.tickets import holding, line_changes, prep, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.made_lines import made_lines
from abrazo.desk.tickets.ticket_lines import Picked
from tests.desk.conftest import Desk
from tests.desk.scenes import lent
from tests.desk.tickets.test_change import add


def soup(desk: Desk, *, sent: bool = False, billed: bool = False) -> tuple[int, int]:
    number = starting.seat(desk.house, desk.tamsin, "G2", 1, desk.key())
    add(desk, number, "fish-soup", "A", choices=("bread-3",), quantity="2")
    if sent:
        prep.send(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), ())
    if billed:
        outbox.print_bills(desk.house, desk.tamsin, number, desk.key())
    return number, desk.whole(number).standing[0].id


def acts(desk: Desk, number: int, line: int, why: str = "", by: Actor | None = None) -> dict[str, Callable[[], None]]:
    v, by = desk.version(number), by or desk.tamsin
    cheaper = Picked("fish-soup", "2", ("bread-1",), ("A",))
    return {
        "remove": lambda: ticket_lines.remove_line(desk.house, by, OnTicket(number, v), line, why),
        "fewer": lambda: ticket_lines.set_quantity(desk.house, by, OnTicket(number, v), line, "1", why),
        "cheaper": lambda: line_changes.change_line(desk.house, by, OnTicket(number, v), line, cheaper, why),
        "clear": lambda: line_changes.clear(desk.house, by, OnTicket(number, v), why),
    }


@pytest.mark.parametrize("how", ["sent", "billed"])
@pytest.mark.parametrize("act", ["remove", "fewer", "cheaper", "clear"])
def test_it_takes_a_reason_and_a_right(desk: Desk, how: str, act: str) -> None:
    number, line = soup(desk, sent=how == "sent", billed=how == "billed")
    before = desk.whole(number)
    assert made_lines(desk.house, before) == {line: how}
    for why, where in (("", "reason"), ("spilt", "pin")):
        with pytest.raises(Refused) as refusal:
            acts(desk, number, line, why)[act]()
        assert refusal.value.where == where
    assert desk.whole(number) == before
    acts(desk, number, line, "spilt", lent(desk))[act]()
    assert desk.whole(number).bill.total < before.bill.total
    assert any("spilt, allowed by Odile Marsh" in one for one in desk.told(number))


def test_what_nobody_made_yet_goes_freely(desk: Desk) -> None:
    number, line = soup(desk)
    holding.ask_bill(desk.house, desk.tamsin, desk.on(number), True)
    acts(desk, number, line)["cheaper"]()
    acts(desk, number, line)["fewer"]()
    acts(desk, number, line)["remove"]()
    assert desk.whole(number).standing == []


def test_what_comes_after_the_bill_is_not_billed(desk: Desk) -> None:
    number, line = soup(desk, billed=True)
    desk.clock.on(5)
    add(desk, number, "apple-juice", "A")
    assert set(made_lines(desk.house, desk.whole(number))) == {line}
    more = Picked("fish-soup", "3", ("bread-3",), ("A",))
    line_changes.change_line(desk.house, desk.tamsin, desk.on(number), line, more)
    assert desk.whole(number).line(line).quantity == "3"


def test_a_party_whose_lines_went_did_order(desk: Desk) -> None:
    number, _ = soup(desk, sent=True)
    line_changes.clear(desk.house, desk.boss, desk.on(number), "they left without paying")
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    words = desk.told(number)
    assert words[-1] == "All lines were removed; ticket closed"
    assert any("they left without paying" in one for one in words)
