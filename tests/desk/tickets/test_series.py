"""Prepaid series: sold to somebody, used by themselves, kept, given back, expired; and the books at every step."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from abrazo.core.errors import Code, Refused
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.owed import owed
from abrazo.desk.overview.person import person_sheet
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import closing, refunds, reopening, tenders
from abrazo.desk.payments.refunds import RefundWanted
from abrazo.desk.tickets import adjustments, customer, series, ticket_lines
from abrazo.desk.tickets.series import applying
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till import business_day, counting
from abrazo.desk.till.views.till import till_page
from abrazo.formats.receipt_text import receipt_text
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import pay, person, wren
from tests.desk.tickets.test_benefits import member, nets, sale_for
from tests.refusals import refuses


def pick(desk: Desk, number: int, item: str, quantity: str = "1") -> None:
    ticket_lines.add_line(desk.house, wren(desk), desk.on(number), Picked(item, quantity))


def sold(desk: Desk, who: int) -> int:
    """A series is sold to somebody and paid; gives its ticket."""
    number = sale_for(desk, who)
    pick(desk, number, "five-paddles")
    pay(desk, number)
    return number


def left(desk: Desk, who: int) -> list[int]:
    return [one.left for one in person_sheet(desk.house, who).series]


def close_all(desk: Desk) -> None:
    """Every drawer is counted right, and the day closed."""
    for till in desk.house.tills():
        actor = desk.actor(desk.of.boss, till)
        counting.count_drawer(
            desk.house, actor, counting.Counted({}, till_page(desk.house, actor.till).expected), desk.key()
        )
    business_day.close_day(desk.house, desk.boss, desk.key())


def paper(desk: Desk, number: int) -> str:
    """The receipt, its lines joined."""
    whole = desk.whole(number)
    return " ".join(receipt_text(receipt_of(desk.house, whole, whole.payers[0].id)).split())


def liability(desk: Desk) -> int:
    return -desk.balance("liabilities:series")


def test_sold_used_and_what_papers_say(desk: Desk) -> None:
    who = person(desk)
    first = sold(desk, who)
    assert (liability(desk), left(desk, who)) == (16667, [5])  # 200.00 with 20 % in it
    assert "Five paddles: 5 of 5 left, until Sun 13 Jun 2027" in paper(desk, first)
    number = sale_for(desk, who)
    pick(desk, number, "first-paddle", "2")
    pick(desk, number, "wetsuit")
    assert nets(desk, number) == {"First paddle": 0, "Wetsuit": 1200}
    shown = [(one.name, one.off, one.kept) for one in applying(desk.house, desk.whole(number))]
    assert shown == [("Five paddles", 9600, False)]
    assert "use 1 of 5, 4 left" in paper(desk, number) and "use 2 of 5, 3 left" in paper(desk, number)
    assert liability(desk) == 16667
    pay(desk, number)
    assert liability(desk) == 16667 - 2 * 3334  # the first two of 3334, 3334, 3333, 3333, 3333
    assert left(desk, who) == [3]
    holds(desk)
    assert soundness(desk.house) == []


def test_it_is_sold_to_somebody_and_follows_them(desk: Desk) -> None:
    number = ticket = sale_for(desk, person(desk))
    customer.set_person(desk.house, wren(desk), desk.on(number), 0)
    with refuses("Five paddles is sold to somebody: choose the customer first."):
        pick(desk, ticket, "five-paddles")
    assert desk.whole(ticket).standing == []
    one, other = person(desk, "One Moe"), person(desk, "Other Moe")
    customer.set_person(desk.house, wren(desk), desk.on(number), one)
    pick(desk, number, "five-paddles", "2")
    assert [line.quantity for line in desk.whole(number).standing] == ["1", "1"]
    with pytest.raises(Refused) as refusal:
        customer.set_person(desk.house, wren(desk), desk.on(number), 0)
    assert refusal.value.code is Code.SOLD_TO_SOMEBODY
    customer.set_person(desk.house, wren(desk), desk.on(number), other)
    pay(desk, number)
    assert (left(desk, one), left(desk, other)) == ([], [5, 5])
    line = desk.whole(number).standing[0].id
    assert line
    holds(desk)


def test_the_first_use_can_be_had_at_once_and_goes_with_what_sold_it(desk: Desk) -> None:
    who = person(desk)
    number = sale_for(desk, who)
    pick(desk, number, "skiff-lesson")
    pick(desk, number, "five-paddles")
    assert nets(desk, number) == {"Skiff lesson": 0, "Five paddles": 20000}
    line = desk.whole(number).standing[1].id
    with refuses("Five paddles stands on a line of its own: pick it again for another one."):
        ticket_lines.set_quantity(desk.house, wren(desk), desk.on(number), line, "2")
    ticket_lines.remove_line(desk.house, wren(desk), desk.on(number), line)
    assert nets(desk, number) == {"Skiff lesson": 5200}
    pick(desk, number, "five-paddles")
    pay(desk, number)
    assert left(desk, who) == [4]
    reopening.reopen(desk.house, desk.boss, desk.on(number), "wrong card")
    assert liability(desk) == 0
    assert left(desk, who) == []
    holds(desk)
    line = next(one.id for one in desk.whole(number).standing if one.label == "Five paddles")
    with refuses("This would change what somebody has already paid for."):
        ticket_lines.remove_line(desk.house, desk.boss, desk.on(number), line, "wrong")
    closing.free_table(desk.house, desk.boss, desk.on(number))
    assert (left(desk, who), liability(desk)) == ([4], 16667 - 3334)
    reopening.void(desk.house, desk.boss, desk.on(number), "not wanted")
    assert (left(desk, who), liability(desk)) == ([], 0)
    holds(desk)


def test_kept_for_another_day_and_used_after_all(desk: Desk) -> None:
    who = member(desk)
    sold(desk, who)
    number = sale_for(desk, who)
    pick(desk, number, "first-paddle")
    assert nets(desk, number) == {"First paddle": 0}  # a series needs no benefit beside it
    given = next(one for one in desk.whole(number).given if one.series)
    adjustments.take_off(desk.house, wren(desk), desk.on(number), given.id)
    assert nets(desk, number) == {"First paddle": 4224}  # 12 % as a member
    shown = [(one.id, one.kept) for one in applying(desk.house, desk.whole(number))]
    assert shown == [(f"series-{given.series}", True)]
    adjustments.keep_benefit(desk.house, wren(desk), desk.on(number), shown[0][0], another_day=False)
    assert nets(desk, number) == {"First paddle": 0}
    assert "use 1 of 5, 4 left" in desk.told(number)[-2] + desk.told(number)[-1].replace("Five paddles: ", "")
    closing.free_table(desk.house, wren(desk), desk.on(number))
    assert left(desk, who) == [4]


def test_an_undone_use_keeps_its_number_for_the_next(desk: Desk) -> None:
    who = person(desk)
    sold(desk, who)
    numbers = [sale_for(desk, who) for _ in range(3)]
    for number in numbers:
        pick(desk, number, "first-paddle")
    used = [next(one.reason for one in desk.whole(number).given) for number in numbers]
    assert [words[-19:] for words in used] == [f", use {n} of 5, {5 - n} left"[-19:] for n in (1, 2, 3)]
    ticket_lines.remove_line(desk.house, wren(desk), desk.on(numbers[1]), desk.whole(numbers[1]).standing[0].id)
    pick(desk, numbers[1], "skiff-lesson")
    assert "use 2 of 5, 2 left" in desk.whole(numbers[1]).given[0].reason
    for number in numbers:
        closing.free_table(desk.house, wren(desk), desk.on(number))
    assert left(desk, who) == [2]
    reopening.void(desk.house, desk.boss, desk.on(numbers[0]), "did not come")
    assert left(desk, who) == [3]
    again = sale_for(desk, who)
    pick(desk, again, "first-paddle")
    assert "use 1 of 5" in desk.whole(again).given[0].reason
    closing.free_table(desk.house, wren(desk), desk.on(again))
    holds(desk)
    assert soundness(desk.house) == []


def test_what_is_left_goes_back_whole_and_the_ticket_stays(desk: Desk) -> None:
    who = person(desk)
    number = sold(desk, who)
    line, payment = desk.whole(number).standing[0].id, desk.whole(number).taken[0].id
    use = sale_for(desk, who)
    pick(desk, use, "first-paddle", "2")
    closing.free_table(desk.house, wren(desk), desk.on(use))
    with refuses("Five paddles, sold on ticket"):
        reopening.reopen(desk.house, desk.boss, desk.on(number), "wrong")
    with refuses("Of Five paddles all that was not used is given back"):
        refunds.refund(desk.house, desk.boss, desk.on(number), RefundWanted(payment, 1000, (line,)), "moved away")
    refunds.refund(desk.house, desk.boss, desk.on(number), RefundWanted(payment, None, (line,)), "moved away")
    assert desk.whole(number).taken[0].given == 20000
    (back,) = refunds.refunds_of(desk.house, number)
    assert (back.amount, back.taxes) == (11999, (("std", 11999, 2000),))  # 3 of 5: 9,999 without tax
    assert (left(desk, who), liability(desk)) == ([0], 0)
    with refuses("Nothing of Five paddles is left to give back."):
        refunds.refund(desk.house, desk.boss, desk.on(number), RefundWanted(payment, None, (line,)), "again")
    holds(desk)
    assert soundness(desk.house) == []
    assert [(use.number, use.given_back) for use in person_sheet(desk.house, who).series[0].gone] == [
        (1, False), (2, False), (3, True), (4, True), (5, True),
    ]  # fmt: skip


def test_what_nobody_had_in_time_is_the_houses(desk: Desk) -> None:
    who = person(desk)
    sold(desk, who)
    use = sale_for(desk, who)
    pick(desk, use, "first-paddle")
    closing.free_table(desk.house, wren(desk), desk.on(use))
    desk.house.connection.execute("UPDATE series SET until = '2026-06-13'")
    close_all(desk)
    assert (liability(desk), left(desk, who)) == (0, [0])
    assert desk.balance("income:series-expired") == -(16667 - 3334)
    holds(desk)
    assert soundness(desk.house) == []


def test_nobody_else_and_nothing_else_uses_it(desk: Desk) -> None:
    sold(desk, person(desk))
    number = sale_for(desk, person(desk, "Another Moe"))
    pick(desk, number, "first-paddle")
    assert nets(desk, number) == {"First paddle": 4800}
    with pytest.raises(Refused):
        tenders.take_cash(
            desk.house, wren(desk), desk.on(number), desk.whole(number).payers[0].id, tenders.Sum(9999999), 0
        )
    assert [one.amount for one in owed(desk.house, desk.boss) if one.kind == "series"] == [16667]


class Year(RuleBasedStateMachine):
    """People buy series, use them, change their minds; the books hold after every step."""

    desk: Desk  # set by the test

    @initialize()
    def begin(self) -> None:
        self.who, self.open, self.done, self.bought = person(self.desk), list[int](), list[int](), list[int]()

    @rule()
    def buy(self) -> None:
        self.bought.append(sold(self.desk, self.who))

    @rule(item=st.sampled_from(["first-paddle", "skiff-lesson", "roll-clinic"]), many=st.integers(1, 3))
    def come(self, item: str, many: int) -> None:
        self.open.append(sale_for(self.desk, self.who))
        pick(self.desk, self.open[-1], item, str(many))

    @precondition(lambda self: self.open)
    @rule(data=st.data())
    def leave(self, data: st.DataObject) -> None:
        number = self.open.pop(data.draw(st.integers(0, len(self.open) - 1)))
        pay(self.desk, number)
        self.done.append(number)

    @precondition(lambda self: self.open)
    @rule(data=st.data())
    def go_without(self, data: st.DataObject) -> None:
        number = self.open.pop(data.draw(st.integers(0, len(self.open) - 1)))
        line = self.desk.whole(number).standing[0].id
        ticket_lines.remove_line(self.desk.house, self.desk.boss, self.desk.on(number), line, "went")
        closing.free_table(self.desk.house, self.desk.boss, self.desk.on(number))

    @precondition(lambda self: self.done)
    @rule(data=st.data())
    def not_at_all(self, data: st.DataObject) -> None:
        number = self.done.pop(data.draw(st.integers(0, len(self.done) - 1)))
        reopening.void(self.desk.house, self.desk.boss, self.desk.on(number), "rain")

    @precondition(lambda self: self.bought)
    @rule(data=st.data())
    def give_back(self, data: st.DataObject) -> None:
        number = self.bought.pop(data.draw(st.integers(0, len(self.bought) - 1)))
        whole = self.desk.whole(number)
        wanted = RefundWanted(whole.taken[0].id, None, (whole.standing[0].id,))
        with suppress(Refused):  # nothing may be left
            refunds.refund(self.desk.house, self.desk.boss, self.desk.on(number), wanted, "moves")

    @invariant()
    def holds(self) -> None:
        if hasattr(self, "who"):
            self.desk.house.forget()
            assert soundness(self.desk.house) == []


def test_a_year_of_series(desk: Desk) -> None:
    Year.desk = desk
    run_state_machine_as_test(Year, settings=settings(max_examples=6, stateful_step_count=18, deadline=None))
    holds(desk)
    assert series.kind_of(desk.house, "five-paddles")
