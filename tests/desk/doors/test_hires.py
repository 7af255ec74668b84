"""Hire: what it asks for, what is free, what secures it; late, damaged, lost; the owner's part and what they are told."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import NotFound
from abrazo.desk.doors import hires as desk_hires
from abrazo.desk.doors.hires import Returned, WantedHire
from abrazo.desk.doors.views.hires import cards_of, hire_day, hire_sheet, late_hires
from abrazo.desk.output import outbox, owner_statements
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.finder import find
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import accounts, cards, closing, refunds, reopening
from abrazo.desk.payments.cards import Keyed
from abrazo.desk.people.people import known
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.store import hires
from abrazo.worker import hire_charges
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import pay, person, wren
from tests.desk.tickets.test_benefits import nets, sale_for
from tests.desk.tickets.test_series import paper, pick
from tests.refusals import refuses

DAY = timedelta(days=1)
CARD, SHORT = "4000001234567899", "4000008877665542"


def hirer(desk: Desk, name: str = "Petra Moe", expiry: str = "09/29", number: str = CARD) -> int:
    who = person(desk, name)
    if expiry:
        cards.store(desk.house, wren(desk), who, Keyed(number, expiry, "907"), desk.key())
    return who


def hire(desk: Desk, who: int, tariff: str = "double-kayak-day", **more: object) -> tuple[int, int]:
    """A hire on a ticket of its own; gives hire and ticket."""
    number = sale_for(desk, who)
    facts = {"email": "p@moe.example"} | more
    wanted = WantedHire(tariff, **facts)  # type: ignore[arg-type]  # facts by field name
    return desk_hires.add_hire(desk.house, wren(desk), desk.on(number), wanted), number


def out(desk: Desk, who: int, tariff: str = "double-kayak-day") -> int:
    """A hire that is paid and gone."""
    made, number = hire(desk, who, tariff)
    pay(desk, number)
    return made


def standings(desk: Desk) -> list[tuple[str, str]]:
    return [(one.hire.unit, str(one.standing)) for one in cards_of(desk.house, hires.out(desk.house.connection))]


def test_it_asks_for_what_is_missing_and_nothing_else(desk: Desk) -> None:
    who = hirer(desk, expiry="")
    number = sale_for(desk, who)
    with pytest.raises(Refused) as asks:
        pick(desk, number, "double-kayak")
    assert asks.value.code is Code.HIRE_ASKS and not desk.whole(number).standing
    wanted = WantedHire("double-kayak-day")

    def refused(code: Code, where: str, **more: object) -> None:
        with pytest.raises(Refused) as refusal:
            desk_hires.add_hire(desk.house, wren(desk), desk.on(number), replace(wanted, **more))  # type: ignore[arg-type]  # facts by field name
        assert (refusal.value.code, refusal.value.where) == (code, where)
        assert desk.whole(number).standing == []

    refused(Code.HIRE_NEEDS_CARD, "card")
    cards.store(desk.house, wren(desk), who, Keyed(SHORT, "06/26", "907"), desk.key())
    with refuses("secures what is back by Fri 5 Jun 2026: store another one"):
        desk_hires.add_hire(desk.house, wren(desk), desk.on(number), wanted)
    cards.store(desk.house, wren(desk), who, Keyed(CARD, "07/26", "907"), desk.key())
    refused(Code.HIRE_NEEDS_EMAIL, "email")
    refused(Code.NOT_EMAIL, "email", email="at home")
    refused(Code.IN_THE_PAST, "from", date="2026-06-12", time="10:00")
    refused(Code.NOT_MOMENT, "from", date="soon", time="10:00")
    refused(Code.TARIFF_NOT_THEN, "from", tariff="double-kayak-weekend", date="2026-06-17", time="10:00")
    refused(Code.CARD_TOO_SHORT, "card", date="2026-07-06", time="10:00")
    made = desk_hires.add_hire(desk.house, wren(desk), desk.on(number), replace(wanted, email="Petra@Moe.example"))
    assert known(desk.house, who).email == "Petra@moe.example"
    one = desk_hires.read_hire(desk.house, made)
    assert (one.unit, one.due_at) == ("D-01", "2026-06-14T14:20:00")
    assert nets(desk, number) == {"Double kayak D-01, day": 5500}
    assert f"{one.name}: D-01, back by Sun 14 Jun" in paper(desk, number)
    assert receipt_of(desk.house, desk.whole(number), desk.whole(number).payers[0].id).code == one.name


def test_times_of_a_unit_never_overlap(desk: Desk) -> None:
    made = [out(desk, hirer(desk, f"Number {n}", number=number)) for n, number in enumerate((CARD, SHORT))]
    assert [desk_hires.read_hire(desk.house, one).unit for one in made] == ["D-01", "D-02"]
    who = hirer(desk, "Third Moe", number="4000005511003411")
    number = sale_for(desk, who)
    email = "t@moe.example"
    with refuses("D-01 is with somebody until Sun 14 Jun 2026, 14:20"):
        wanted = WantedHire("double-kayak-day", units={"double-kayak": "D-01"}, email=email)
        desk_hires.add_hire(desk.house, wren(desk), desk.on(number), wanted)
    later = WantedHire("double-kayak-day", {"double-kayak": "D-01"}, date="2026-06-14", time="14:20", email=email)
    booked = desk_hires.add_hire(desk.house, wren(desk), desk.on(number), later)
    desk_hires.add_hire(desk.house, wren(desk), desk.on(number), WantedHire("double-kayak-week"))
    with refuses("None is free for that time."):
        desk_hires.add_hire(desk.house, wren(desk), desk.on(number), WantedHire("double-kayak-half-day"))
    assert standings(desk) == [("D-01", "out"), ("D-02", "out"), ("D-01", "booked"), ("D-03", "out")]
    with refuses("is not out yet"):
        desk_hires.take_back(desk.house, wren(desk), booked, Returned(), desk.key())
    week = next(line.id for line in desk.whole(number).standing if "week" in line.label)
    ticket_lines.remove_line(desk.house, wren(desk), desk.on(number), week)
    assert ("D-03", "out") not in standings(desk)
    desk.clock.time += timedelta(days=1, minutes=30)  # the first two are late: they are still away
    day = hire_day(desk.house)
    assert [one.hire.unit for one in late_hires(desk.house)] == ["D-01", "D-02"]
    assert [(kind.free, kind.units) for kind in day.kinds if kind.item == "double-kayak"] == [(1, 3)]


def test_in_time_it_costs_nothing_and_is_back_once(desk: Desk) -> None:
    made = out(desk, hirer(desk))
    desk.clock.time += timedelta(days=1, minutes=15)  # within grace
    key = desk.key()
    for _ in range(2):  # pressed twice
        assert desk_hires.take_back(desk.house, wren(desk), made, Returned("scratch at the bow"), key) is None
    one = desk_hires.read_hire(desk.house, made)
    assert (one.note, one.late, one.charged_on) == ("scratch at the bow", 0, None)
    with refuses("is back already"):
        desk_hires.take_back(desk.house, wren(desk), made, Returned(), desk.key())
    with refuses("is back already"):
        reopening.reopen(desk.house, desk.boss, desk.on(one.ticket), "wrong")
    holds(desk)


@pytest.mark.parametrize("declined", [False, True])
def test_late_and_damaged_is_charged_to_the_card_or_owed(desk: Desk, declined: bool) -> None:
    who = hirer(desk)
    made = out(desk, who)
    desk.clock.time += timedelta(days=1, minutes=61)
    one = desk_hires.read_hire(desk.house, made)
    cost = desk_hires.cost_now(desk.house, one, Returned(damage=4000))
    assert (cost.minutes, cost.late, cost.damage) == (61, 2800, 4000)  # two started hours
    assert desk_hires.cost_now(desk.house, one, Returned(lost=True)).damage == 140000 - 2800
    if declined:
        desk.tell("decline")
    ticket = desk_hires.take_back(desk.house, wren(desk), made, Returned("hole", 4000), desk.key())
    assert ticket is not None
    hire_charges.settle(desk.house)
    assert desk.whole(ticket).head.state == "open"  # the card has not answered
    desk.follow()
    assert hire_charges.settle(desk.house) == [ticket]
    assert desk.whole(ticket).head.state == "closed"
    assert accounts.owed_by(desk.house, known(desk.house, who)) == (6800 if declined else 0)
    assert hire_charges.settle(desk.house) == []
    desk.die()
    holds(desk)
    assert soundness(desk.house) == []


def test_what_is_lost_is_hired_out_no_more(desk: Desk) -> None:
    made = out(desk, hirer(desk), "board-half-day")
    ticket = desk_hires.take_back(desk.house, wren(desk), made, Returned(lost=True), desk.key())
    assert ticket is not None and desk.whole(ticket).bill.total == 60000
    assert [(kind.free, kind.units) for kind in hire_day(desk.house).kinds if kind.item == "board"] == [(2, 2)]


def test_the_owner_has_their_part_and_is_told_once(desk: Desk) -> None:
    made, number = hire(desk, hirer(desk))
    pay(desk, number)
    assert -desk.balance("liabilities:owners:creekside-fleet") == 2750  # 60 % of 45.83
    reopening.reopen(desk.house, desk.boss, desk.on(number), "wrong price")
    assert desk.balance("liabilities:owners:") == 0
    closing.free_table(desk.house, desk.boss, desk.on(number))
    desk_hires.take_back(desk.house, wren(desk), made, Returned(), desk.key())
    folders = desk.house.devices.owners
    folders.folder.write_text("in the way")  # a file where the folder should be
    assert outbox.send_to_owners(desk.house) == 4
    folders.folder.unlink()
    assert outbox.send_to_owners(desk.house) == outbox.send_to_owners(desk.house) == 0
    told = [json.loads(file.read_text("utf-8")) for file in folders.files("Creekside Fleet")]
    assert [(one["event"], one["amounts"].get("part", "")) for one in told] == [
        ("hired", "27.50"), ("not hired", "27.50"), ("hired", "27.50"), ("returned", ""),
    ]  # fmt: skip
    assert not any("Moe" in json.dumps(one) for one in told)
    assert [one["reference"] for one in told] == [f"H-1021-{n}" for n in (1, 2, 3, 4)]
    holds(desk)
    assert soundness(desk.house) == []


def test_the_owner_has_their_part_of_what_stays_and_a_statement(desk: Desk) -> None:
    """Part of the price goes back, then the rest: the owner's part goes along to the cent, and so does the statement."""
    made, number = hire(desk, hirer(desk))
    pay(desk, number)
    account, line = "liabilities:owners:creekside-fleet", desk.whole(number).standing[0].id
    payment = desk.whole(number).taken[0].id
    for amount, left in ((1000, 2250), (None, 0)):  # 55.00, of which 10.00 goes back first: 60 % of 37.50, then nothing
        wanted = refunds.RefundWanted(payment, amount, (line,))
        refunds.refund(desk.house, desk.boss, desk.on(number), wanted, "it leaked")
        assert -desk.balance(account) == left
        assert desk_hires.read_hire(desk.house, made).part == left
    today = desk.clock.time.date()
    told = owner_statements.owner_statement(desk.house, desk.boss, "Creekside Fleet", today, today)
    assert [row.amount for row in told.rows] == [2750, -500, -2250]
    assert (told.opening, told.closing, told.rows[0].entry.name) == (0, 0, "H-1021")
    after = owner_statements.owner_statement(desk.house, desk.boss, "Creekside Fleet", today + DAY, today + DAY)
    assert (after.opening, after.rows, after.closing) == (0, [], 0)
    table = owner_statements.owner_file(desk.house, desk.boss, "Creekside Fleet", today, today).splitlines()
    assert len(table) == 6 and table[2].split(",")[1].strip('"') == "H-1021"
    with pytest.raises(Refused):
        owner_statements.owner_statement(desk.house, desk.tamsin, "Creekside Fleet", today, today)
    with pytest.raises(NotFound):
        owner_statements.owner_statement(desk.house, desk.boss, "nobody", today, today)
    events = [row[0] for row in desk.house.connection.execute("SELECT event FROM hire_told ORDER BY id")]
    assert events == ["hired", "refunded", "refunded"]
    holds(desk)
    assert soundness(desk.house) == []


def test_an_early_return_leaves_what_the_tariffs_say(desk: Desk) -> None:
    """A day's hire back after three hours costs a half day, where the house lets the tariffs decide."""
    made = out(desk, hirer(desk))
    desk.clock.on(3 * 3600)
    desk_hires.take_back(desk.house, wren(desk), made, Returned(), desk.key())
    assert desk_hires.early_back(desk.house, desk_hires.read_hire(desk.house, made)) == 0
    house_settings.decide(desk.house, desk.boss, "early_hires_back", "yes")
    one = desk_hires.read_hire(desk.house, made)
    prices = {row.id: row.price for row in hires.list_tariffs(desk.house.connection)}
    early = prices["double-kayak-day"] - prices["double-kayak-half-day"]
    assert desk_hires.early_back(desk.house, one) == hire_sheet(desk.house, one).early == early > 0
    wanted = refunds.RefundWanted(desk.whole(one.ticket).taken[0].id, early, (one.line,))
    refunds.refund(desk.house, desk.boss, desk.on(one.ticket), wanted, "early")
    desk.house.forget()
    assert desk_hires.early_back(desk.house, desk_hires.read_hire(desk.house, made)) == 0
    holds(desk)


def test_it_is_found_by_number_by_unit_and_by_barcode(desk: Desk) -> None:
    made = out(desk, hirer(desk))
    code = next(unit.code for unit in hires.list_units(desk.house.connection) if unit.id == "D-01")
    for words in ("H-1021", "h 1021", "d-01", code or ""):
        assert find(desk.house, words).goes_to == ("hire", str(made)), words
    assert find(desk.house, "D-02").goes_to == ("hires", "D-02")


def test_the_customer_stays_as_long_as_their_card_secures_it(desk: Desk) -> None:
    _, number = hire(desk, hirer(desk))
    with refuses("is hired out to somebody whose card secures it"):
        customer.set_person(desk.house, wren(desk), desk.on(number), person(desk, "Other Moe"))
    reopening_line = desk.whole(number).standing[0].id
    with refuses("stands on a line of its own"):
        ticket_lines.set_quantity(desk.house, wren(desk), desk.on(number), reopening_line, "2")
