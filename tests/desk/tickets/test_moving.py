"""Moving lines, guests and tickets: nothing is lost on the way, nobody's paid part changes hands."""

from __future__ import annotations

import random

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.doors import bookings, jobs, phone_orders
from abrazo.desk.payments import closing, tenders
from abrazo.desk.tickets import adjustments, guests, holding, moving, sharing, starting, ticket_lines, unmerging
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.moving import Parting
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import bookings as kept_bookings
from abrazo.store import ticket as ticket_store
from tests.desk.conftest import Desk
from tests.desk.scenes import booked, dropped, pay, person, tab, wren
from tests.desk.tickets.test_change import add
from tests.refusals import refuses


def open_total(desk: Desk) -> int:
    return sum(desk.whole(number).bill.total for number in ticket_store.list_open(desk.house.connection))


def test_a_table_onto_a_tab_with_a_held_card(desk: Desk) -> None:
    """Guests keep their lines; the hold and the tab's own lines stay; the table is free."""
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "lemon-posset", "B")
    onto = tab(desk)
    add(desk, onto, "apple-juice")
    moving.merge(desk.house, desk.tamsin, desk.on(number), onto)
    whole = desk.whole(onto)
    assert [guest.letter for guest in whole.guests] == ["A", "B", "C"]
    owners = {line.label: sorted(whole_letter(whole, guest) for guest, _ in line.shares) for line in whole.standing}
    assert owners == {"Apple juice": ["A"], "Bottle of cider": ["B", "C"], "Lemon posset": ["C"]}
    assert (whole.bill.total, desk.whole(number).head.state) == (360 + 1240 + 620, "left")
    assert starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key()) != number
    sharing.by_seat(desk.house, desk.jory, desk.on(onto))
    assert [payer.account.total for payer in desk.whole(onto).bill.payers] == [360, 620, 1240]


def whole_letter(whole: TicketSnapshot, guest: int) -> str:
    return next(g.letter for g in whole.guests if g.id == guest)


def test_a_guest_takes_their_own_lines_along(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    add(desk, number, "bottle-of-cider", "A", "B")
    add(desk, number, "lemon-posset", "B")
    add(desk, number, "apple-juice", "B", "C")
    other = starting.seat(desk.house, desk.tamsin, "G4", 2, desk.key())
    add(desk, other, "still-water-bottle")
    moving.move_guests(desk.house, desk.tamsin, desk.on(number), Parting(("B",)), other)
    left, there = desk.whole(number), desk.whole(other)
    assert (left.bill.total, there.bill.total, len(left.guests), len(there.guests)) == (1600, 920, 2, 3)
    sharing.by_seat(desk.house, desk.tamsin, desk.on(other))
    assert [payer.account.total for payer in desk.whole(other).bill.payers] == [150, 150, 620]


def test_what_is_paid_stays(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "bottle-of-cider", "A")
    add(desk, number, "lemon-posset", "B")
    other = starting.seat(desk.house, desk.tamsin, "G4", 2, desk.key())
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    first = desk.whole(number).payers[0].id
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), first, tenders.Sum(1240), 1240)
    for act in (lambda v: moving.merge(desk.house, desk.tamsin, OnTicket(number, v, desk.key()), other),
                lambda v: moving.move_guests(desk.house, desk.tamsin, OnTicket(number, v, desk.key()), Parting(("A",)), other),
                lambda v: moving.move_lines(desk.house, desk.tamsin, OnTicket(number, v, desk.key()), [desk.whole(number).lines[0].id], other)):  # fmt: skip
        with pytest.raises(Refused):
            act(desk.version(number))
    assert desk.whole(number).bill.paid == 1240


def test_a_booking_and_a_job_move_with_their_ticket(desk: Desk) -> None:
    """The deposit goes along, and the job is still settled once."""
    who = person(desk)
    job, _ = dropped(desk, who, 2000)
    first = bookings.check_out(desk.house, wren(desk), [booked(desk, "Petra Moe")], desk.key())
    jobs.add_to_ticket(desk.house, wren(desk), desk.on(first), job)
    assert (desk.whole(first).bill.total, desk.whole(first).bill.due) == (9000, 7000)
    onto = phone_orders.take_order(
        desk.house,
        desk.tamsin,
        phone_orders.NewOrder("Saltpan", ("Ansel", "Birgit"), "2026-06-13T18:00:00", 400),
        desk.key(),
    )
    moving.merge(desk.house, wren(desk), desk.on(first), onto)
    whole = desk.whole(onto)
    assert (whole.bill.total, whole.bill.due, len(whole.taken)) == (9400, 7400, 1)
    assert [one.id for one in kept_bookings.on_ticket(desk.house.connection, onto)] != []
    assert desk.whole(first).taken == []
    pay(desk, onto)
    assert desk.balance("liabilities:deposits") == desk.balance("liabilities:open-tickets") == 0


@pytest.mark.parametrize("seed", range(6))
def test_nothing_is_lost_whatever_moves_where(desk: Desk, seed: int) -> None:
    chance = random.Random(seed)
    numbers = [starting.seat(desk.house, desk.tamsin, spot, 3, desk.key()) for spot in ("G2", "G4")]
    numbers += [tab(desk, "Ro", 0), starting.open_counter(desk.house, desk.jory, desk.key())]
    items = ["apple-juice", "lemon-posset", "bottle-of-cider", "still-water-bottle"]
    for number in numbers:
        for _ in range(3):
            guests = [g.letter for g in desk.whole(number).guests]
            mine = tuple(chance.sample(guests, chance.randint(0, len(guests))))
            ticket_lines.add_line(
                desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked(chance.choice(items), "1", (), mine)
            )
    total = open_total(desk)
    for _ in range(14):
        open_now = ticket_store.list_open(desk.house.connection)
        number, other = chance.choice(open_now), chance.choice(open_now)
        whole = desk.whole(number)
        try:
            if chance.random() < 0.2 and len(open_now) > 2:
                moving.merge(desk.house, desk.jory, OnTicket(number, whole.head.version, desk.key()), other)
            elif chance.random() < 0.5:
                going = Parting((chance.choice(whole.guests).letter,), along=chance.random() < 0.5)
                moving.move_guests(
                    desk.house, desk.jory, OnTicket(number, whole.head.version, desk.key()), going, other
                )
            else:
                lines = [line.id for line in whole.standing if chance.random() < 0.5]
                moving.move_lines(desk.house, desk.jory, OnTicket(number, whole.head.version, desk.key()), lines, other)
        except Refused:
            continue
        assert open_total(desk) == total
        for one in ticket_store.list_open(desk.house.connection):
            found = desk.whole(one)
            letters = [guest.letter for guest in found.guests]
            assert len(letters) == len(set(letters)) > 0
            assert {guest.payer for guest in found.guests} == {payer.id for payer in found.payers}


def test_a_party_parts_to_a_free_table(desk: Desk) -> None:
    """Two of four go to another table with what is theirs; what the table shares stays with those who stay."""
    number = starting.seat(desk.house, desk.tamsin, "D4", 4, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "lemon-posset", "B")
    add(desk, number, "apple-juice", "B", "C")
    add(desk, number, "apple-juice", "A", "B")
    before, key = desk.whole(number).bill.total, desk.key()
    for _ in range(2):
        made = moving.split_off(desk.house, desk.tamsin, desk.on(number, key), Parting(("B", "C")), "G2")
    here, there = desk.whole(number), desk.whole(made)
    assert here.bill.total + there.bill.total == before
    assert [line.label for line in there.standing] == ["Lemon posset", "Apple juice"]
    assert ([g.letter for g in here.guests], [g.letter for g in there.guests]) == (["A", "D"], ["A", "B"])
    assert (there.head.spot, len(there.payers), there.payers[0].letter) == ("G2", 1, "∗")
    with refuses("Nobody would be left"):
        moving.split_off(desk.house, desk.tamsin, desk.on(made), Parting(("A", "B")), "G4")
    with refuses("seated meanwhile"):
        moving.split_off(desk.house, desk.tamsin, desk.on(number), Parting(("A",)), "G2")
    line = here.standing[0].id
    last = moving.split_off(
        desk.house, desk.tamsin, OnTicket(number, here.head.version, desk.key()), Parting((), (line,)), "G4"
    )
    assert [one.label for one in desk.whole(last).standing] == ["Bottle of cider"]


def test_a_guest_joins_a_table_and_one_was_not_there(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "D5", 7, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "lemon-posset", "B")
    guests.add_guest(desk.house, desk.tamsin, desk.on(number))
    whole = desk.whole(number)
    assert (len(whole.guests), len(whole.payers)) == (8, 1)
    assert [charge.label for charge in whole.charges] == ["Service charge 10 %"]  # eight bear it
    with refuses("picked for B"):
        guests.guest_leaves(desk.house, desk.tamsin, desk.on(number), "B")
    guests.guest_leaves(desk.house, desk.tamsin, desk.on(number), "H")
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    guests.add_guest(desk.house, desk.tamsin, desk.on(number))
    whole = desk.whole(number)
    assert [payer.letter for payer in whole.payers] == list("ABCDEFGH")
    assert sum(payer.account.total for payer in whole.bill.payers) == whole.bill.total
    charge = whole.charges[0].id
    adjustments.take_charge_off(desk.house, desk.tamsin, desk.on(number), charge)
    assert desk.whole(number).charges == []
    adjustments.put_service_charge(desk.house, desk.tamsin, desk.on(number))
    with refuses("already"):
        adjustments.put_service_charge(desk.house, desk.tamsin, desk.on(number))


def test_what_went_to_a_free_table_comes_back_to_where_it_was(desk: Desk) -> None:
    number = tab(desk, held=0)
    holding.put_aside(desk.house, desk.jory, desk.on(number), "Green anorak")
    moving.to_table(desk.house, desk.jory, desk.on(number), "G2")
    on = desk.on(number)
    for _ in range(2):
        moving.off_table(desk.house, desk.jory, on)
    head = desk.whole(number).head
    assert (head.spot, head.source, bool(head.held_at), head.name) == (None, "tab", True, "Green anorak")
    moving.to_table(desk.house, desk.jory, desk.on(number), "G2")
    moving.to_table(desk.house, desk.jory, desk.on(number), "G4")
    starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    with refuses("G2"):
        moving.off_table(desk.house, desk.jory, desk.on(number))
    holding.ask_bill(desk.house, desk.jory, desk.on(number), True)
    with refuses("Something else was done meanwhile"):
        moving.off_table(desk.house, desk.jory, desk.on(number))
    holding.put_aside(desk.house, desk.jory, desk.on(number), holding.name_to_hold(desk.house, desk.whole(number)))
    assert desk.whole(number).head.name == "Green anorak"


def test_what_guests_share_stays_or_goes_along(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    other = starting.seat(desk.house, desk.tamsin, "G4", 1, desk.key())
    for seats in (("A", "B"), ("B", "C"), ()):
        add(desk, number, "lemon-posset", *seats)
    assert len(moving.stays_behind(desk.whole(number), ["A"])) == 2
    moving.move_guests(desk.house, desk.tamsin, desk.on(number), Parting(("A",), along=True), other)
    left, there = desk.whole(number), desk.whole(other)
    assert (len(left.standing), len(there.standing), len(there.guests)) == (1, 2, 2)
    assert [len(line.shares) for line in there.standing] == [1, 1]  # theirs alone now


def test_a_plain_sale_comes_back_out_of_a_tab(desk: Desk) -> None:
    """Its lines with what was given on them, under its number; not twice, not what is more than its lines, not paid."""
    act = desk.house, desk.tamsin
    number, bar = starting.open_counter(*act, desk.key()), tab(desk, "Wilhelm")
    add(desk, number, "lemon-posset")
    add(desk, number, "ginger-parkin")
    add(desk, bar, "small-cider")
    line, other = (one.id for one in desk.whole(number).standing)
    adjustments.give(*act, desk.on(number), line, adjustments.Wanted(preset="late-tide"))
    before = desk.whole(number).bill.due
    assert unmerging.comes_back(desk.house, desk.whole(number)) and not unmerging.comes_back(
        desk.house, desk.whole(bar)
    )
    moving.merge(*act, desk.on(number), bar)
    assert desk.whole(number).head.state == "left"
    back = desk.on(bar)
    for _ in range(2):  # pressed twice
        assert unmerging.unmerge(*act, back, number, (line, other)) == number
    whole = desk.whole(number)
    assert (whole.head.state, whole.bill.due, [one.id for one in whole.standing]) == ("open", before, [line, other])
    assert [one.label for one in desk.whole(bar).standing] == ["Small cider"]
    with refuses("closed"):
        unmerging.unmerge(*act, desk.on(bar), number, (line,))
    left = starting.seat(*act, "G1", 2, desk.key())
    closing.free_table(*act, desk.on(left))
    with refuses("closed"):  # a table that was left is no sale that came here
        unmerging.unmerge(*act, desk.on(bar), left, (desk.whole(bar).standing[0].id,))
    moving.merge(*act, desk.on(number), bar)
    pay(desk, bar, close=False)
    with refuses("paid"):
        unmerging.unmerge(*act, OnTicket(bar, None, desk.key()), number, (line, other))
    assert desk.whole(number).head.state == "left"
