"""Sharing out: who has paid keeps what they paid."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from abrazo.core.errors import Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Source
from abrazo.core.tenders import cash_due
from abrazo.desk.doors import jobs
from abrazo.desk.payments import closing, tenders
from abrazo.desk.payments.views.pay_pad import figures
from abrazo.desk.tickets import moving, sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.starting import TicketOrigin
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import journal
from tests.desk.conftest import Desk
from tests.desk.scenes import dropped, person, wren
from tests.desk.tickets.test_change import add
from tests.refusals import refuses


def table(desk: Desk, guests: int = 3) -> int:
    number = starting.seat(desk.house, desk.tamsin, "G2", guests, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "apple-juice", "A")
    add(desk, number, "lemon-posset", "B")
    return number


def totals(desk: Desk, number: int) -> dict[str, int]:
    whole = desk.whole(number)
    return {payer.letter: whole.payer_bill(payer.id).account.total for payer in whole.payers}


def pay(desk: Desk, number: int, letter: str) -> int:
    whole = desk.whole(number)
    payer = next(payer.id for payer in whole.payers if payer.letter == letter)
    due = cash_due(whole.payer_bill(payer).account.due, 5)
    return tenders.take_cash(
        desk.house, desk.tamsin, OnTicket(number, whole.head.version, desk.key()), payer, tenders.Sum(due), due
    )


def test_by_seat_and_back(desk: Desk) -> None:
    number = table(desk)
    assert totals(desk, number) == {"∗": 2220}
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    assert totals(desk, number) == {"A": 774, "B": 1033, "C": 413}
    sharing.equal_parts(desk.house, desk.tamsin, desk.on(number), 4)
    assert totals(desk, number) == {"A": 555, "B": 555, "C": 555, "D": 555}
    sharing.undo(desk.house, desk.tamsin, desk.on(number))
    assert totals(desk, number) == {"∗": 2220}


def test_a_shared_starter_for_two_of_three(desk: Desk) -> None:
    number = table(desk)
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    whole = desk.whole(number)
    c = next(payer.id for payer in whole.payers if payer.letter == "C")
    sharing.pick_line(desk.house, desk.tamsin, OnTicket(number, whole.head.version), whole.lines[0].id, c, "not")
    assert totals(desk, number) == {"A": 980, "B": 1240, "C": 0}
    a = next(payer.id for payer in whole.payers if payer.letter == "A")
    with refuses("belong to nobody"):
        sharing.pick_line(desk.house, desk.tamsin, desk.on(number), whole.lines[1].id, a, "not")


def test_one_guest_pays_for_another_and_not_after_all(desk: Desk) -> None:
    number = table(desk)
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    a = next(payer.id for payer in desk.whole(number).payers if payer.letter == "A")
    sharing.pay_for(desk.house, desk.tamsin, desk.on(number), a, "C")
    assert totals(desk, number) == {"A": 1187, "B": 1033}
    sharing.pay_for(desk.house, desk.tamsin, desk.on(number), a, "C")
    assert totals(desk, number) == {"A": 774, "B": 1033, "C": 413}


def test_late_lines_land_on_those_who_have_not_paid(desk: Desk) -> None:
    number = table(desk)
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    pay(desk, number, "A")
    add(desk, number, "bottle-of-cider")
    assert totals(desk, number) == {"A": 774, "B": 1653, "C": 1033}
    with refuses("already paid"):
        add(desk, number, "apple-juice", "A")
    line = desk.whole(number).lines[0]
    with refuses("already paid"):
        ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), line.id)


def test_undo_and_equal_parts_leave_the_settled_alone(desk: Desk) -> None:
    number = table(desk)
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    pay(desk, number, "A")
    sharing.undo(desk.house, desk.tamsin, desk.on(number))
    assert totals(desk, number) == {"A": 774, "B": 1446}
    sharing.equal_parts(desk.house, desk.tamsin, desk.on(number), 3)
    assert sorted(totals(desk, number).values()) == [482, 482, 482, 774]
    part = next(letter for letter, total in totals(desk, number).items() if total == 482)
    pay(desk, number, part)
    with refuses("a part is no seat"):
        sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    sharing.undo(desk.house, desk.tamsin, desk.on(number))
    assert sorted(totals(desk, number).values()) == [482, 774, 964]


def test_who_paid_alone_owes_for_what_comes_later(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "B1", 1, desk.key())
    add(desk, number, "apple-juice")
    pay(desk, number, "A")
    add(desk, number, "lemon-posset")
    whole = desk.whole(number)
    assert (whole.bill.total, whole.bill.paid, whole.bill.due) == (980, 360, 620)


def test_a_bottle_for_two_of_three_in_any_proportion(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("bottle-of-cider"))
    line = desk.whole(number).standing[0]
    for bad in ("", "A", "A 2 B", "Z 1", "A 0", "A 100", "A 1, A 2", "two to one"):
        with pytest.raises(Refused) as refused:
            ticket_lines.give_parts(desk.house, desk.tamsin, desk.on(number), line.id, bad)
        assert refused.value.where == "parts"
    ticket_lines.give_parts(desk.house, desk.tamsin, desk.on(number), line.id, "a 2, C 1")
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    totals = [payer.account.total for payer in desk.whole(number).bill.payers]
    assert (totals[1], sum(totals)) == (0, line.unit_price)
    assert abs(totals[0] * 3 - line.unit_price * 2) < 3


def test_one_gives_an_amount_and_the_others_share_the_rest_in_any_way(desk: Desk) -> None:
    number = table(desk)
    act = (desk.house, desk.tamsin)
    for bad in (0, 2221):
        with refuses(r"at most €22\.20"):
            sharing.state_amount(*act, desk.on(number), bad)
    sharing.state_amount(*act, desk.on(number), 1000)
    assert totals(desk, number) == {"∗": 1220, "Z": 1000}
    sharing.by_seat(*act, desk.on(number))
    sharing.state_amount(*act, desk.on(number), 220)
    seats = totals(desk, number)
    assert (seats.pop("Z"), seats.pop("Y")) == (1000, 220)
    assert (sorted(seats), sum(seats.values())) == (["A", "B", "C"], 1000)
    sharing.equal_parts(*act, desk.on(number), 2)
    assert totals(desk, number) == {"A": 500, "B": 500, "Z": 1000, "Y": 220}
    pay(desk, number, "Z")
    z = next(p.id for p in desk.whole(number).payers if p.letter == "Z")
    with refuses("paid already"):
        sharing.state_none(*act, desk.on(number), z)
    add(desk, number, "apple-juice")
    assert totals(desk, number) == {"A": 680, "B": 680, "Z": 1000, "Y": 220}
    y = next(p.id for p in desk.whole(number).payers if p.letter == "Y")
    sharing.state_amount(*act, desk.on(number), 300, y)
    assert totals(desk, number) == {"A": 640, "B": 640, "Z": 1000, "Y": 300}
    sharing.undo(*act, desk.on(number))
    assert totals(desk, number) == {"∗": 1580, "Z": 1000}
    for letter in ("∗",):
        pay(desk, number, letter)
    assert desk.whole(number).bill.due == 0
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))


def test_a_stated_amount_is_never_more_than_the_bill(desk: Desk) -> None:
    number = table(desk)
    sharing.state_amount(desk.house, desk.tamsin, desk.on(number), 2000)
    line = desk.whole(number).lines[0]
    with refuses("stated amount that would be more"):
        ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), line.id)
    assert totals(desk, number) == {"∗": 220, "Z": 2000}


def test_by_seat_after_equal_parts_and_shared_lines(desk: Desk) -> None:
    """It was refused with the id of a guest: for a moment nobody paid for them."""
    number = starting.seat(desk.house, desk.tamsin, "D4", 3, desk.key())
    add(desk, number, "apple-juice", "C")
    add(desk, number, "kelp-butter-bread")
    sharing.equal_parts(desk.house, desk.tamsin, desk.on(number), 3)
    acts: tuple[Callable[[int], None], ...] = (
        lambda v: sharing.pay_for(desk.house, desk.tamsin, OnTicket(number, v), desk.whole(number).payers[0].id, "C"),
        lambda v: sharing.pick_line(
            desk.house,
            desk.tamsin,
            OnTicket(number, v),
            desk.whole(number).standing[0].id,
            desk.whole(number).payers[0].id,
            "only",
        ),
    )
    for act in acts:
        with refuses("Share by seat first"):
            act(desk.version(number))
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    assert [(p.letter, desk.whole(number).payer_bill(p.id).account.total) for p in desk.whole(number).payers] == [
        ("A", 140),
        ("B", 140),
        ("C", 500),
    ]


def test_who_gives_a_stated_amount_pays_for_nobody_else(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "D4", 2, desk.key())
    add(desk, number, "lemon-posset")
    sharing.state_amount(desk.house, desk.tamsin, desk.on(number), 200)
    giver = next(p for p in desk.whole(number).payers if p.stated)
    with refuses("gives a stated amount"):
        sharing.pay_for(desk.house, desk.tamsin, desk.on(number), giver.id, "B")
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    assert sum(p.account.total for p in desk.whole(number).bill.payers) == 620


def test_a_seat_gives_an_amount_and_no_payer_comes_in(desk: Desk) -> None:
    """B gives 10.00 of 22.20: A and C give the rest, also what B had and did not pay for."""
    number, act = table(desk), (desk.house, desk.tamsin)
    sharing.by_seat(*act, desk.on(number))
    before = totals(desk, number)
    b = next(p.id for p in desk.whole(number).payers if p.letter == "B")
    for bad in (0, -1, 2221):
        with refuses(r"at most €22\.20"):
            sharing.state_amount(*act, desk.on(number), bad, b)
    sharing.state_amount(*act, desk.on(number), 1000, b)
    after = totals(desk, number)
    assert (sorted(after), after["B"], sum(after.values())) == (["A", "B", "C"], 1000, 2220)
    sharing.by_seat(*act, desk.on(number))
    assert totals(desk, number) == after
    pay(desk, number, "B")
    assert totals(desk, number) == after
    with refuses("paid already"):
        sharing.state_none(*act, desk.on(number), b)
    tenders.take_back(*act, desk.on(number), desk.whole(number).taken[0].id)
    sharing.state_none(*act, desk.on(number), b)
    assert totals(desk, number) == before
    for letter in "AB":
        one = next(p.id for p in desk.whole(number).payers if p.letter == letter)
        sharing.state_amount(*act, desk.on(number), 100, one)
    c = next(p.id for p in desk.whole(number).payers if p.letter == "C")
    with refuses("Nobody else is left"):
        sharing.state_amount(*act, desk.on(number), 100, c)


def test_who_leaves_a_seat_takes_its_stated_amount_along(desk: Desk) -> None:
    """The guest of a seat that gives an amount goes, is paid for by another, or is shared anew: one payer a letter."""
    number, act = table(desk), (desk.house, desk.tamsin)

    def b_gives() -> int:
        sharing.by_seat(*act, desk.on(number))
        b = next(p.id for p in desk.whole(number).payers if p.letter == "B")
        sharing.state_amount(*act, desk.on(number), 1000, b)
        return b

    b_gives()
    sharing.equal_parts(*act, desk.on(number), 2)
    sharing.by_seat(*act, desk.on(number))
    assert (sorted(totals(desk, number)), totals(desk, number)["B"]) == (["A", "B", "C"], 1000)
    a = next(p.id for p in desk.whole(number).payers if p.letter == "A")
    sharing.pay_for(*act, desk.on(number), a, "B")
    assert sorted(totals(desk, number)) == ["A", "C"]
    b_gives()
    moving.split_off(*act, desk.on(number), moving.Parting(("B",), along=True), "G7")
    left = totals(desk, number)
    assert (sorted(left), sum(left.values())) == (["A", "C"], desk.whole(number).bill.total)


def test_payers_choose_how_they_take_the_fees(desk: Desk) -> None:
    """A takes them evenly and pays all of it; the others' bills still add up, and everybody can settle."""
    number = starting.seat(desk.house, desk.tamsin, "D5", 8, desk.key())
    for letter in "ABC":
        add(desk, number, "dressed-crab", letter, choices=("bread-1",))
    add(desk, number, "lemon-posset", "D")
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    for place, share in ((0, "even"), (1, "proportional"), (3, "even")):
        payer = desk.whole(number).payers[place].id
        figure = next(one for one in figures(desk.house, desk.whole(number), payer) if one.fees == share)
        sharing.choose_fees(desk.house, desk.tamsin, desk.on(number), payer, share)
        due = desk.whole(number).payer_bill(payer).account.due
        assert due == figure.amount
        taken = cash_due(due, 5)
        tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(taken), taken)
        assert desk.whole(number).payer(payer).settled_at
        with refuses("paid already"):
            sharing.choose_fees(desk.house, desk.tamsin, desk.on(number), payer, "")
    for payer_row in desk.whole(number).payers:
        due = cash_due(desk.whole(number).payer_bill(payer_row.id).account.due, 5)
        if due:
            tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer_row.id, tenders.Sum(due), due)
    assert desk.whole(number).bill.due == 0
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert desk.balance("") == 0


def test_a_ticket_with_a_jobs_deposit_is_shared(desk: Desk) -> None:
    """The deposit goes with whoever stands for the thing's person, however often it is shared anew."""
    who = person(desk, "Petra Moe")
    job, _ = dropped(desk, who, 2000)
    number = starting.open_ticket(
        desk.house,
        wren(desk),
        TicketOrigin(Source.COUNTER, None, "Ro", ("Ro",)),
        starting.Beginning(Kind.COUNTER_SALE),
        desk.key(),
    )
    add(desk, number, "lemon-posset")
    jobs.add_to_ticket(desk.house, wren(desk), desk.on(number), job)
    total = desk.whole(number).bill.total
    shares: tuple[Callable[[int], None], ...] = (
        lambda v: sharing.by_seat(desk.house, wren(desk), OnTicket(number, v)),
        lambda v: sharing.equal_parts(desk.house, wren(desk), OnTicket(number, v), 3),
        lambda v: sharing.undo(desk.house, wren(desk), OnTicket(number, v)),
        lambda v: sharing.by_seat(desk.house, wren(desk), OnTicket(number, v)),
    )
    for share in shares:
        share(desk.version(number))
        whole = desk.whole(number)
        assert whole.bill.due == total - sum(p.amount for p in whole.taken)
        assert sum(p.amount for p in whole.taken) <= 2000
    whole = desk.whole(number)
    owner = next(g for g in whole.guests if g.name == "Petra Moe")
    assert [(p.tender, p.payer, p.amount) for p in whole.taken] == [("deposit", owner.payer, 2000)]
    assert journal.unbalanced(desk.house.connection) == []
