"""What a house is set up with, changed by people: settings, items, choices, taxes, staff, tills; who did what, undone."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping

import pytest
from PIL import Image

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Does
from abrazo.desk.context import NotFound
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.setup import house_settings
from abrazo.desk.setup.fields import FieldKind, read, shown
from abrazo.desk.setup.goods import CATEGORIES, GROUPS, ITEMS, PRESETS, TAXES
from abrazo.desk.setup.house_settings import ONE, SETTINGS, THINGS
from abrazo.desk.setup.logo import drop_logo, logo_of, put_logo
from abrazo.desk.setup.things import Change, Thing, add, change, everything, latest_changes, retire, told, undo
from abrazo.desk.setup.workers import STAFF, TILLS
from abrazo.desk.sign_in import sign_in
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.store import catalogue
from abrazo.web.set_up_frame import places_found
from abrazo.web.set_up_page import field_shown
from abrazo.words import set_up as words
from tests.desk.conftest import Desk
from tests.desk.test_both_houses import sale
from tests.refusals import refuses

SOAP = {
    "name": ["Kelp  brush"],
    "price": ["12,50"],
    "report_group": ["goods"],
    "number": [""],
    "code": ["4006381333931"],
}


def added(desk: Desk, thing: Thing, **typed: str | list[str]) -> str:
    fields = {id: [one] if isinstance(one, str) else one for id, one in typed.items()}
    return add(desk.house, desk.boss, thing, fields, desk.key())


def changed(desk: Desk, thing: Thing, ref: str, **typed: str | list[str]) -> int | None:
    return saved(desk, thing, ref, None, typed)


def saved(desk: Desk, thing: Thing, ref: str, seen: int | None, typed: Mapping[str, str | list[str]]) -> int | None:
    """What a page sends that showed the change `seen` last."""
    fields = {id: [one] if isinstance(one, str) else one for id, one in typed.items()}
    return change(desk.house, desk.boss, thing, Change(ref, fields, seen), desk.key())


def first(desk: Desk, thing: Thing) -> str:
    return next(iter(everything(desk.house, thing)))


def test_everything_is_described_in_words_and_read_back_as_it_is_shown(both: Desk) -> None:
    currency = both.house.settings.currency
    for thing in THINGS.values():
        assert thing.id in words.THINGS
        for ref, values in everything(both.house, thing).items():
            for field in thing.fields:
                assert field.id in words.FIELDS[thing.id]
                if field.kind in (FieldKind.CHOICES, FieldKind.ROWS) or field.id == "pin":
                    continue
                again = read(both.house, field, [shown(currency, field, values[field.id])])
                assert again == values[field.id], (thing.id, ref, field.id)


def test_an_item_is_added_sold_changed_and_retired(both: Desk) -> None:
    desk, category, tax = both, first(both, CATEGORIES), first(both, TAXES)
    key, typed = desk.key(), SOAP | {"category": [category], "tax": [tax]}
    ref = add(desk.house, desk.boss, ITEMS, typed, key)
    assert add(desk.house, desk.boss, ITEMS, typed, key) == ref == "kelp-brush"
    found = catalogue.by_code(desk.house.connection, "4006381333931")
    assert found is not None
    assert (found.name, found.price, found.number) == ("Kelp brush", 1250, max(
        int(str(one["number"])) for one in everything(desk.house, ITEMS).values()))  # fmt: skip
    number = sale(desk, [ref])
    seen = latest_changes(desk.house, ITEMS, ref)[0].id
    made = saved(desk, ITEMS, ref, seen, {"price": "14.00", "name": "Kelp brush, long"})
    assert [line.unit_price for line in desk.whole(number).standing] == [1250]
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), ticket_lines.Picked(ref))
    assert [line.unit_price for line in desk.whole(number).standing] == [1250, 1400]
    with refuses(f"{desk.boss.staff.name} changed this a moment ago"):
        saved(desk, ITEMS, ref, seen, {"price": "15"})
    assert changed(desk, ITEMS, ref, price="14.00") is None  # as it is already
    assert made is not None
    undo(desk.house, desk.boss, THINGS, made)
    assert everything(desk.house, ITEMS)[ref]["name"] == "Kelp brush"
    with refuses("changed again since"):
        undo(desk.house, desk.boss, THINGS, made)
    retire(desk.house, desk.boss, ITEMS, ref)
    assert catalogue.find_items(desk.house.connection, "kelp brush") == []
    assert catalogue.by_code(desk.house.connection, "4006381333931") is None
    assert desk.house.item(ref) is not None  # what was sold knows it still
    retire(desk.house, desk.boss, ITEMS, ref, back=True)
    assert [one.id for one in catalogue.find_items(desk.house.connection, "kelp brush")] == [ref]
    did = [(one.what, one.staff) for one in latest_changes(desk.house, ITEMS, ref)]
    who = desk.boss.staff.id
    assert did == [("brought back", who), ("retired", who), ("changed", who), ("changed", who), ("added", who)]


@pytest.mark.parametrize(
    ("typed", "where", "code"),
    [
        ({"name": ""}, "name", Code.FIELD_MISSING),
        ({"price": "-1"}, "price", Code.FIELD_LEAST),
        ({"price": "abc"}, "price", Code.NOT_AMOUNT),
        ({"category": "nowhere"}, "category", Code.FIELD_CHOICE),
        ({"minutes": "3"}, "minutes", Code.FIELD_RANGE),
        ({"code": "4006381333932"}, "code", Code.CODE_DIGIT),
        ({"name": "x" * 81}, "name", Code.TOO_LONG),
    ],
)
def test_what_is_wrong_is_said_beside_its_field(desk: Desk, typed: dict[str, str], where: str, code: Code) -> None:
    fields = SOAP | {"category": [first(desk, CATEGORIES)], "tax": [""]} | {id: [one] for id, one in typed.items()}
    with pytest.raises(Refused) as refusal:
        add(desk.house, desk.boss, ITEMS, fields, desk.key())
    assert (refusal.value.where, refusal.value.code) == (where, code)
    assert latest_changes(desk.house) == []


def test_a_number_and_a_barcode_belong_to_one(desk: Desk) -> None:
    known = catalogue.list_items(desk.house.connection)
    coded, other = next(one for one in known if one.code), known[0]
    with refuses(f"{coded.name} has this barcode already"):
        changed(desk, ITEMS, other.id, code=str(coded.code))
    with refuses(f"{coded.name} has this number already"):
        changed(desk, ITEMS, other.id, number=str(coded.number))


def test_choices_keep_their_names_and_are_asked(both: Desk) -> None:
    desk = both
    rows: dict[str, str | list[str]] = {"choices-label": ["thin", "thick", ""], "choices-price": ["", "0.80", ""]}
    ref = added(desk, GROUPS, name="Cut", least="1", most="1", **rows)
    item = added(
        desk, ITEMS, name="Plank", price="3", report_group="goods", category=first(desk, CATEGORIES), groups=[ref]
    )
    groups = catalogue.list_groups(desk.house.connection, item)
    assert [(one.name, [(c.label, c.price) for c in one.choices]) for one in groups] == [
        ("Cut", [("thin", 0), ("thick", 80)])
    ]
    ids = [one.id for one in groups[0].choices]
    made = saved(desk, GROUPS, ref, None, {"choices-label": ["thick", "wavy"], "choices-price": ["1", "-0.50"]})
    again = catalogue.list_groups(desk.house.connection, item)[0].choices
    assert [(one.label, one.price) for one in again] == [("thick", 100), ("wavy", -50)]
    assert again[0].id == ids[1]
    assert made is not None
    undo(desk.house, desk.boss, THINGS, made)
    assert [one.label for one in catalogue.list_groups(desk.house.connection, item)[0].choices] == ["thin", "thick"]
    faults: tuple[tuple[dict[str, str | list[str]], Code], ...] = (
        ({"choices-label": ["a", "A"], "choices-price": ["", ""]}, Code.CHOICE_TWICE),
        ({"choices-label": [""], "choices-price": [""]}, Code.NO_CHOICES),
        ({"choices-label": ["a"], "choices-price": ["x"]}, Code.FIELD_ROW),
        ({"most": "9"}, Code.CHOICE_NUMBERS),
    )
    for wrong, code in faults:
        with pytest.raises(Refused) as refusal:
            saved(desk, GROUPS, ref, None, wrong)
        assert refusal.value.code == code


def test_a_tax_on_tickets_keeps_its_rate(both: Desk) -> None:
    desk = both
    tax = str(everything(desk.house, ITEMS)[desk.of.goods]["tax"])
    with pytest.raises(Refused):
        saved(desk, TAXES, tax, None, {"rate": "9.5", "parts-label": ["State"], "parts-rate": ["3"]})
    saved(desk, TAXES, tax, None, {"rate": "9.5", "parts-label": [""], "parts-rate": [""]})
    assert next(one.rate for one in desk.house.taxes() if one.id == tax) * 1000 == 95
    sale(desk, [desk.of.goods])
    with refuses("It stands on tickets with this rate"):
        changed(desk, TAXES, tax, rate="9.25")
    changed(desk, TAXES, tax, label="Tax of old")
    fresh = added(desk, TAXES, label="Tax of new", rate="9.25")
    changed(desk, ITEMS, desk.of.goods, tax=fresh)
    newest = next(one.id for one in latest_changes(desk.house, TAXES) if one.what == "added")
    with refuses("bears it. Give it another tax first"):
        undo(desk.house, desk.boss, THINGS, newest)
    assert desk.whole(sale(desk, [desk.of.goods])).standing[0].tax == fresh


def test_a_tax_of_a_charge_alone_keeps_its_rate_too(desk: Desk) -> None:
    fresh = added(desk, TAXES, label="Tax of service", rate="7")
    house_settings.decide(desk.house, desk.boss, "service_tax", fresh)
    starting.seat(desk.house, desk.tamsin, "P2", desk.house.settings.service_from, desk.key())
    with refuses("It stands on tickets with this rate"):
        changed(desk, TAXES, fresh, rate="8")


def test_what_is_retired_stays_where_it_is(both: Desk) -> None:
    """A sheet that is sent as it was shown changes nothing, also when what it names is retired meanwhile."""
    desk = both
    item = everything(desk.house, ITEMS)[desk.of.food]
    retire(desk.house, desk.boss, CATEGORIES, str(item["category"]))
    groups = added(desk, GROUPS, name="Cut", least="0", most="1", **{"choices-label": ["thin"], "choices-price": [""]})
    changed(desk, ITEMS, desk.of.food, groups=[groups])
    retire(desk.house, desk.boss, GROUPS, groups)
    now = everything(desk.house, ITEMS)[desk.of.food]
    shown_ = {one.id: field_shown(desk.house, ITEMS, one, now, {}) for one in ITEMS.fields}
    assert str(item["category"]) in dict(shown_["category"].options) and shown_["groups"].chosen == (groups,)
    same = {id: list(one.chosen) if one.chosen else [one.value] for id, one in shown_.items() if id != "variable"}
    assert saved(desk, ITEMS, desk.of.food, None, same) is None
    other = next(id for id in everything(desk.house, ITEMS) if id != desk.of.food)
    elsewhere = everything(desk.house, ITEMS)[other]
    if elsewhere["category"] != item["category"]:
        options = field_shown(desk.house, ITEMS, ITEMS.field("category"), elsewhere, {}).options
        assert str(item["category"]) not in dict(options)
    assert catalogue.read_items(desk.house.connection, [desk.of.food])[desk.of.food].groups == 0  # nothing is asked


def test_the_days_journal_tells_it_too(both: Desk) -> None:
    changed(both, ITEMS, both.of.goods, price="1.23")
    found = both.house.connection.execute("SELECT facts FROM journal WHERE kind = 'set-up changed'").fetchall()
    assert [(one["fields"], one["what"]) for one in (json.loads(row["facts"]) for row in found)] == [
        ("price", "changed")
    ]
    assert soundness(both.house) == []


def test_people_sign_in_with_the_pin_they_were_given(both: Desk) -> None:
    desk = both
    with pytest.raises(Refused) as refusal:
        added(desk, STAFF, name="Ada Moor", role="server", pin="12")
    assert refusal.value.where == "pin"
    ref = added(desk, STAFF, name="Ada Moor", role="server", pin="8241", takes_bookings="yes")
    till = desk.of.till
    assert sign_in(desk.house, ref, till, "8241").staff.takes_bookings
    changed(desk, STAFF, ref, pin="9134")
    assert sign_in(desk.house, ref, till, "9134").staff.id == ref
    rows = [tuple(row) for row in desk.house.connection.execute("SELECT before, after FROM set_up_change")]
    assert "8241" not in str(rows) and "9134" not in str(rows)
    with refuses("PIN"):
        changed(desk, STAFF, ref, pin="1")
    with refuses("another PIN, of 6 digits or more"):
        changed(desk, STAFF, ref, role="supervisor")  # lends rights, with four digits
    changed(desk, STAFF, ref, role="supervisor", pin="913476")
    changed(desk, STAFF, ref, role="server", pin="9134")
    retire(desk.house, desk.boss, STAFF, ref)
    with pytest.raises(NotFound):
        sign_in(desk.house, ref, till, "9134")
    assert ref in desk.house.staff()
    for one in [id for id, values in everything(desk.house, STAFF).items() if values["role"] == "supervisor"]:
        if one != desk.boss.staff.id:
            retire(desk.house, desk.boss, STAFF, one)
    with refuses("One supervisor has to stay"):
        retire(desk.house, desk.boss, STAFF, desk.boss.staff.id)


def test_tills_and_discounts(both: Desk) -> None:
    desk = both
    till = added(desk, TILLS, name="Back door", home="desk", machine="card machine 2")
    assert sign_in(desk.house, desk.boss.staff.id, till, {"odile": "407118", "ottilie": "640218"}[desk.of.boss])
    retire(desk.house, desk.boss, TILLS, till)
    assert till not in desk.house.tills_in_use()
    with refuses("Its drawer is open today"):
        retire(desk.house, desk.boss, TILLS, desk.of.till)
    desk.house.connection.execute("UPDATE day SET closed_at = opened_at")  # the day is over
    for one in list(desk.house.tills_in_use())[1:]:
        retire(desk.house, desk.boss, TILLS, one)
    with refuses("One till has to stay"):
        retire(desk.house, desk.boss, TILLS, next(iter(desk.house.tills_in_use())))
    with pytest.raises(Refused) as refusal:
        added(desk, PRESETS, name="Rain", kind="discount", scope="both")
    assert refusal.value.code == Code.PERCENT_OR_AMOUNT
    added(desk, PRESETS, name="Rain", kind="discount", scope="both", percent="12,5")
    assert changed(desk, CATEGORIES, first(desk, CATEGORIES), name="First of all")
    added(desk, PRESETS, name="Kin", kind="comp", scope="line", amount="2", code="KIN")
    with refuses("Kin has this code already"):
        added(desk, PRESETS, name="Kith", kind="comp", scope="line", amount="2", code="KIN")
    with refuses("cannot lie in itself"):
        changed(desk, CATEGORIES, first(desk, CATEGORIES), parent=first(desk, CATEGORIES))


def test_house_settings_are_checked_kept_and_undone(both: Desk) -> None:
    desk = both
    with refuses("A supervisor changes what the house has set up"):
        house_settings.decide(desk.house, desk.tamsin, "free_after", "5")
    for id, wrong, code in (
        ("free_after", "121", Code.FIELD_RANGE),
        ("open_days", [""], Code.JOB_DAYS),
        ("country", "I1", Code.NO_COUNTRY),
        ("job_prefix", "T-", Code.NUMBER_PREFIX),
        ("job_prefix", desk.house.settings.hire_prefix[:-1], Code.NUMBER_PREFIX),
        ("job_prefix", "1-", Code.NUMBER_PREFIX),
        ("open_days", ["8"], Code.FIELD_CHOICE),
        ("job_days", "x", Code.FIELD_RANGE),
        ("disposal_days", "1000", Code.FIELD_RANGE),
        ("free_discount", "100", Code.FREE_DISCOUNT_RANGE),
        ("free_discount", "1.234", Code.FREE_DISCOUNT_RANGE),
        ("points_per", "0", Code.FIELD_LEAST),
        ("idle_minutes", "241", Code.FIELD_RANGE),
        ("sold_from", "; ".join("abcdefghi"), Code.FIELD_NAMES),
        ("petty", "ice; ice", Code.FIELD_NAMES),
        ("service_percent", "x", Code.NOT_DECIMAL),
    ):
        with pytest.raises(Refused) as refusal:
            house_settings.decide(desk.house, desk.boss, id, wrong)
        assert (refusal.value.code, refusal.value.where) == (code, id)
    before = everything(desk.house, SETTINGS)[ONE]
    for id, value in (
        ("free_discount", "99.99"),
        ("job_prefix", "rp-"),
        ("country", "us"),
        ("free_after", "12"),
        ("petty", "ice; taxi fares"),
        ("open_days", ["3", "4"]),
        ("tab_hold", "45"),
    ):
        house_settings.decide(desk.house, desk.boss, id, value)
    assert (desk.house.settings.free_after, desk.house.settings.open_days, desk.house.settings.tab_hold) == (
        12,
        "3 4",
        4500,
    )
    assert (desk.house.settings.job_prefix, desk.house.settings.country) == ("RP-", "US")
    for one in latest_changes(desk.house, SETTINGS):
        undo(desk.house, desk.boss, THINGS, one.id)
    assert everything(desk.house, SETTINGS)[ONE] == before


def a_picture(wide: int, high: int) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (wide, high), "black").save(out, "PNG")
    return out.getvalue()


def test_a_picture_on_receipts_is_told_and_turned_round_like_any_setting(both: Desk) -> None:
    desk = both

    def latest() -> tuple[int, list[tuple[str, str, str]]]:
        one = latest_changes(desk.house, SETTINGS, ONE)[0]
        return one.id, told(desk.house, SETTINGS, one)

    put_logo(desk.house, desk.boss, a_picture(64, 32), desk.key())
    first, key = logo_of(desk.house), desk.key()
    for _ in range(2):  # asked twice, it is brought once
        put_logo(desk.house, desk.boss, a_picture(96, 24), key)
    second = logo_of(desk.house)
    assert first and second and first != second
    brought, said = latest()
    assert said == [("logo", "64 by 32 dots", "96 by 24 dots")]
    undo(desk.house, desk.boss, THINGS, brought)
    assert logo_of(desk.house) == first
    with pytest.raises(Refused, match=Code.SET_UP_SINCE):
        undo(desk.house, desk.boss, THINGS, brought)
    drop_logo(desk.house, desk.boss, desk.key())
    drop_logo(desk.house, desk.boss, desk.key())
    assert logo_of(desk.house) == b""
    gone, said = latest()
    assert said == [("logo", "64 by 32 dots", "")]
    undo(desk.house, desk.boss, THINGS, gone)
    assert logo_of(desk.house) == first
    assert "logo" not in [one.id for one in SETTINGS.fields]  # never typed, nor written out with the settings


def test_set_up_finds_every_page_by_its_words(both: Desk) -> None:
    tables = Does.TABLES in both.house.settings.does.split()

    def found(find: str) -> set[str]:
        return {url for url, _, _ in places_found(both.house, find)}

    assert {"/set-up/brought"} <= found("gift CARDS") and "/set-up/rights" in found("right")
    assert ("/set-up/floor" in found("areas")) is tables
    assert found("head receipts") == {"/set-up/house?section=papers"}
    assert "/set-up/list/items" in found("ÍTEMS")
    assert found("no such word") == set()
