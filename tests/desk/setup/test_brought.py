"""What people held before: brought in, used like what was sold here, in the books of both houses; taken back; faults.

Outside: opening balances are entered against equity (double entry, common practice).
"""

from __future__ import annotations

from collections.abc import Iterable

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import HeldKind
from abrazo.desk.output import tables
from abrazo.desk.overview import merging
from abrazo.desk.overview.owed import owed
from abrazo.desk.overview.person import person_sheet
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import closing, gift_cards
from abrazo.desk.payments.gift_cards import Spending
from abrazo.desk.payments.views.stored_value import of_person, on_card
from abrazo.desk.people import people
from abrazo.desk.setup import brought
from abrazo.desk.setup.brought_rows import HELD
from abrazo.desk.tickets import memberships
from abrazo.formats.table_file import written_csv
from abrazo.store import series
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import pay
from tests.desk.test_both_houses import in_balance, sale, somebody
from tests.desk.tickets.test_series import close_all
from tests.refusals import refuses

STORED, SERIES, MEMBERS, POINTS = HeldKind.STORED_VALUE, HeldKind.SERIES, HeldKind.MEMBERSHIPS, HeldKind.POINTS
OPENING = "equity:opening-balances"


def file(columns: str, *rows: str) -> bytes:
    return written_csv([one.split(",") for one in (columns, *rows)]).encode()


def bring(desk: Desk, kind: str, data: bytes, key: str = "") -> brought.Look:
    return brought.bring_in(desk.house, desk.boss, HELD[kind], data, f"{kind}.csv", key or desk.key())


def cards(*rows: str) -> bytes:
    return file("kind,number,person,phone,good_until,balance", *rows)


def held_by_books(desk: Desk) -> int:
    return -sum(desk.balance(f"liabilities:{one}") for one in ("gift-cards", "vouchers", "store-credit", "series"))


def test_stored_value_is_spent_like_what_was_sold_here(both: Desk) -> None:
    desk, who, key = both, somebody(both), both.key()
    data = cards("gift card,28 0001,,,,40.00", "voucher,V-7,,,2027-01-31,9.50", "store credit,,Petra Moe,,,1.25")
    for _ in range(2):
        bring(desk, STORED, data, key)
    assert (held_by_books(desk), desk.balance(OPENING), desk.cash()) == (5075, 5075, 0)
    in_balance(desk)
    assert bring(desk, STORED, data) == brought.Look(same=3)  # by another hand: it is all here
    assert of_person(desk.house, who).credit == 125
    number = sale(desk, [desk.of.food])
    due = desk.whole(number).bill.total
    spending = Spending("gift card", due, "280001")
    gift_cards.spend(desk.house, desk.tamsin, desk.on(number), desk.whole(number).payers[0].id, spending)
    closing.free_table(desk.house, desk.tamsin, desk.on(number))
    card = on_card(desk.house, "280001")
    assert card and (card.balance, [kind for _, kind, _, _ in card.moves]) == (4000 - due, ["brought in", "spent"])
    with refuses("Something of it was used since: it stays."):
        brought.take_back(desk.house, desk.boss, brought.latest(desk.house)[0].id)
    with pytest.raises(Refused) as refusal:  # it says what was on it once, and that is not so any more
        bring(desk, STORED, data)
    assert refusal.value.code is Code.TABLE_FAULTS
    close_all(desk)
    assert soundness(desk.house) == []
    holds(desk)
    for kind in HELD:  # what goes out comes in again, and changes nothing
        look = brought.look_at(desk.house, HELD[kind], tables.table(desk.house, kind).as_file("csv"))
        assert (look.new, look.faults, look.unknown) == ([], [], ()), kind


@pytest.mark.parametrize("left", [1, 3, 5])
def test_a_series_goes_on_where_it_was_and_is_used_up_to_the_cent(desk: Desk, left: int) -> None:
    who = somebody(desk)
    columns = "person,phone,series,uses,left,sold_on,until,worth"
    data = file(columns, f"Petra Moe,,five-paddles,5,{left},2026-02-01,2027-02-01,100.01")
    bring(desk, SERIES, data)
    assert (desk.balance("liabilities:series"), person_sheet(desk.house, who).series[0].left) == (-10001, left)
    for use in range(left):
        number = sale(desk, ["first-paddle"], who)
        assert desk.whole(number).bill.total == 0
        assert f"use {5 - left + use + 1} of 5, {left - use - 1} left" in str(desk.whole(number).given)
        pay(desk, number)
    assert desk.balance("liabilities:series") == 0
    number = sale(desk, ["first-paddle"], who)
    assert desk.whole(number).bill.total > 0
    with pytest.raises(Refused):
        brought.take_back(desk.house, desk.boss, brought.latest(desk.house)[0].id)
    pay(desk, number)
    in_balance(desk)
    close_all(desk)
    assert soundness(desk.house) == []


def test_uses_that_were_had_before_never_expire_here(desk: Desk) -> None:
    somebody(desk)
    columns = "person,phone,series,uses,left,sold_on,until,worth"
    bring(desk, SERIES, file(columns, "Petra Moe,,five-paddles,5,2,2025-06-13,2026-06-13,66.67"))
    close_all(desk)
    assert (desk.balance("liabilities:series"), desk.balance("income:series-expired")) == (0, -6667)
    gone = series.gone(desk.house.connection, series.sold(desk.house.connection)[0].id)
    assert [one.number for one in gone] == [4, 5]
    holds(desk)
    assert soundness(desk.house) == []


def test_memberships_and_points_hold_at_once(desk: Desk) -> None:
    who = somebody(desk)
    bring(desk, MEMBERS, file("person,phone,membership,since,until", "petra moe,,Tidekeeper,2026-01-31,2027-01-30"))
    held = memberships.of_person(desk.house, who)
    assert [(one.name, one.since, one.until) for one in held] == [("Tidekeeper", "2026-01-31", "2027-01-30")]
    bring(desk, POINTS, file("person,phone,points", "Petra Moe,,1250"))
    stored, settings = of_person(desk.house, who), desk.house.settings
    assert stored.points == 1250
    worth = 1250 * settings.points_value // settings.points_lot
    assert (desk.balance("liabilities:points"), desk.balance(OPENING)) == (-worth, worth)
    assert next(one for one in owed(desk.house, desk.boss) if one.kind == "points").amount == worth
    in_balance(desk)


def test_a_wrong_file_is_taken_back_on_its_day_and_leaves_nothing(both: Desk) -> None:
    desk, who = both, somebody(both)
    bring(desk, STORED, cards("gift card,280001,,,,40.00", "store credit,,Petra Moe,,,1.25"))
    bring(desk, POINTS, file("person,phone,points", "Petra Moe,,77"))
    for one in brought.latest(desk.house):
        for _ in range(2):
            brought.take_back(desk.house, desk.boss, one.id)
    assert (held_by_books(desk), desk.balance(OPENING), desk.balance("liabilities:points")) == (0, 0, 0)
    assert on_card(desk.house, "280001") is None and of_person(desk.house, who).points == 0
    assert all(one.taken_back_by == desk.of.boss for one in brought.latest(desk.house))
    holds(desk)
    bring(desk, STORED, cards("gift card,280001,,,,41.00"))  # the mended one comes in
    close_all(desk)
    with refuses("No day is open"):
        bring(desk, STORED, cards("gift card,280002,,,,41.00"))
    assert soundness(desk.house) == []


def test_what_moved_with_its_person_is_not_taken_back(desk: Desk) -> None:
    gone, stays = somebody(desk), people.add_person(desk.house, desk.tamsin, {"name": "Petra Moes"}, desk.key())
    bring(desk, STORED, cards("store credit,,Petra Moe,,,1.25"))
    merging.merge(desk.house, desk.tamsin, gone, stays, desk.key())
    assert of_person(desk.house, stays).credit == 125
    with refuses("Something of it was used since"):
        brought.take_back(desk.house, desk.boss, brought.latest(desk.house)[0].id)
    assert soundness(desk.house) == []


def faults(desk: Desk, kind: str, data: bytes) -> Iterable[tuple[int, str, Code]]:
    return [(one.number, one.column, one.why.code) for one in brought.look_at(desk.house, HELD[kind], data).faults]


def test_each_wrong_row_is_named(desk: Desk) -> None:
    somebody(desk)
    for phone in ("+353 20 910 0141", "+353 20 910 0142"):
        people.add_person(desk.house, desk.tamsin, {"name": "Two Moe", "phone": phone}, desk.key())
    mill = {"name": "Mill", "phone": "+353 20 910 0143", "company": "yes"}
    people.add_person(desk.house, desk.tamsin, mill, desk.key())
    bring(desk, STORED, cards("gift card,1,,,,5"))
    wrong = cards(
        "gift card,,,,,5", "gift card,2,,,,-5", "coin,3,,,,5", "gift card,1,,,,6", "gift card,4,,,,5", "gift card,4,,,,5",
        "store credit,,Nobody,,,5", "store credit,,Two Moe,,,5", "store credit,,Two Moe,+353 20 910 0142,,5",
        "voucher,5,,,soon,5", "store credit,,,,,5", "store credit,,Petra Moe,12,,5",
    )  # fmt: skip
    assert faults(desk, STORED, wrong) == [
        (2, "number", Code.FIELD_MISSING),
        (3, "balance", Code.FIELD_LEAST),
        (4, "kind", Code.FIELD_CHOICE),
        (5, "balance", Code.BROUGHT_OTHER),
        (7, "kind", Code.ROW_TWICE),
        (8, "person", Code.BROUGHT_NOBODY),
        (9, "person", Code.BROUGHT_NAMESAKES),
        (11, "good_until", Code.NOT_DATE),
        (12, "person", Code.FIELD_MISSING),
        (13, "phone", Code.NOT_PHONE),
    ]
    same_number = cards("voucher,1,,,,5", "gift card,9,,,,5", "voucher,9,,,,5", "gift card,None,,,,5",
                        "store credit,7,Petra Moe,,,5", "store credit,8,Petra Moe,,,5")  # fmt: skip
    assert faults(desk, STORED, same_number) == [
        (2, "number", Code.BROUGHT_OTHER),
        (4, "kind", Code.ROW_TWICE),
        (7, "kind", Code.ROW_TWICE),
    ]
    columns = "person,phone,series,uses,left,sold_on,until,worth"
    backwards = "Petra Moe,,five-paddles,5,1,2027-02-01,2027-01-01,1"
    assert faults(desk, SERIES, file(columns, backwards)) == [(2, "until", Code.LIST_DATES)]
    assert faults(desk, SERIES, file(
        columns, "Petra Moe,,five-paddles,5,6,,2027-01-01,1", "Petra Moe,,five-paddles,5,1,,2026-01-01,1",
        "Petra Moe,,Toastie,5,1,,2027-01-01,1", "Petra Moe,,five-paddles,5,0,,2026-01-01,0",
    )) == [(2, "left", Code.FIELD_RANGE), (3, "until", Code.BROUGHT_OVER), (4, "series", Code.FIELD_CHOICE)]  # fmt: skip
    bring(desk, SERIES, file(columns, "Petra Moe,,five-paddles,5,2,2026-05-01,2027-01-01,9"))
    assert faults(desk, SERIES, file(columns, "Petra Moe,,five-paddles,5,3,,2027-01-01,9")) == [
        (2, "left", Code.BROUGHT_OTHER)
    ]
    members = file("person,phone,membership,since,until", "Petra Moe,,Tidekeeper,2026-01-31,2025-01-30",
                   "Petra Moe,,Tidekeeper,2026-01-31,2027-01-30")  # fmt: skip
    assert faults(desk, MEMBERS, members) == [(2, "until", Code.LIST_DATES)]
    points = file("person,phone,points", "Mill,,5", "Petra Moe,,x", "Petra Moe,,5", "petra  moe,,5")
    assert faults(desk, POINTS, points) == [
        (2, "person", Code.POINTS_OF_COMPANY),
        (3, "points", Code.FIELD_RANGE),
        (5, "person", Code.ROW_TWICE),
    ]
    with pytest.raises(Refused) as refusal:
        brought.look_at(desk.house, HELD[POINTS], b"a,b\n1,2\n")
    assert refusal.value.code is Code.TABLE_COLUMNS
    assert desk.balance(OPENING) == 500 + 900
    with pytest.raises(Refused) as refusal:
        brought.bring_in(desk.house, desk.tamsin, HELD[POINTS], points, "p.csv", desk.key())
    assert refusal.value.code is Code.RIGHT_SET_UP
