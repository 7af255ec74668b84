"""Price lists, families, quick notes, series, memberships and hire as set-up makes them: each is sold by afterwards."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import PresetAbout
from abrazo.desk.doors import hires
from abrazo.desk.setup.goods import CATEGORIES, FAMILIES, ITEMS, PRICE_LISTS, TAXES, WORDS
from abrazo.desk.setup.kinds import KINDS
from abrazo.desk.setup.paid_ahead import HIRE, MEMBERSHIP_ITEMS, MEMBERSHIPS, SERIES, UNITS
from abrazo.desk.setup.things import Change, Thing, add, change, everything, latest_changes, retire, undo
from abrazo.desk.tickets import memberships, price_lists, series
from abrazo.desk.tickets.views import catalogue
from abrazo.store import benefits, prices, stock
from abrazo.store import hires as hires_kept
from abrazo.store.hires import TariffRow
from tests.desk.conftest import Desk
from tests.desk.test_both_houses import sale

Typed = dict[str, list[str]]


def typed(**fields: str | list[str]) -> Typed:
    return {id.replace("__", "-"): [one] if isinstance(one, str) else one for id, one in fields.items()}


def item_typed(desk: Desk, name: str, **more: str | list[str]) -> Typed:
    """What every item needs, in this house's words."""
    return typed(name=name, price="12.50", category=next(iter(everything(desk.house, CATEGORIES))),
                 tax=next(iter(everything(desk.house, TAXES))), report_group="goods", number="", **more)  # fmt: skip


def added(desk: Desk, thing: Thing, fields: Typed) -> str:
    ref = add(desk.house, desk.boss, thing, fields, desk.key())
    desk.house.forget()
    return ref


def refused(desk: Desk, thing: Thing, fields: Typed, code: Code, where: str) -> None:
    before = everything(desk.house, thing)
    with pytest.raises(Refused) as refusal:
        add(desk.house, desk.boss, thing, fields, desk.key())
    inner = refusal.value.facts.get("why", refusal.value)
    assert isinstance(inner, Refused)
    assert (inner.code, refusal.value.where) == (code, where)
    desk.house.forget()
    assert everything(desk.house, thing) == before


def test_a_price_list_holds_in_its_season_and_no_longer_when_it_is_retired(both: Desk) -> None:
    desk, day = both, both.clock.time.date()
    weekday, item = str(day.isoweekday()), added(both, ITEMS, item_typed(both, "Lantern"))
    hour = f"{desk.clock.time:%H:%M}"
    until = f"{desk.clock.time + timedelta(minutes=30):%H:%M}"
    fields = typed(name="Dusk", days=[weekday], begins=hour, ends=until, first_on=day.isoformat(), last_on="",
                   prices__item=["lantern", ""], prices__price=["7,90", ""], position="0")  # fmt: skip
    ref = added(desk, PRICE_LISTS, fields)
    (line,) = desk.whole(sale(desk, [item])).standing
    assert (line.unit_price, line.price_list) == (790, "Dusk")
    tomorrow = (day + timedelta(days=1)).isoformat()
    made = change(desk.house, desk.boss, PRICE_LISTS, Change(ref, typed(first_on=tomorrow)))
    desk.house.forget()
    assert price_lists.prices_now(desk.house).name != "Dusk"
    assert made is not None
    undo(desk.house, desk.boss, KINDS, made)
    desk.house.forget()
    assert price_lists.prices_now(desk.house).name == "Dusk"
    retire(desk.house, desk.boss, PRICE_LISTS, ref)
    desk.house.forget()
    assert price_lists.prices_now(desk.house).name != "Dusk"
    refused(desk, PRICE_LISTS, fields | typed(days=[]), Code.LIST_DAYS, "days")
    refused(desk, PRICE_LISTS, fields | typed(last_on="2020-01-01"), Code.LIST_DATES, "last_on")
    refused(desk, PRICE_LISTS, fields | typed(begins="25:00"), Code.NOT_TIME, "begins")
    refused(desk, PRICE_LISTS, fields | typed(first_on="June"), Code.NOT_DATE, "first_on")
    refused(
        desk, PRICE_LISTS, fields | typed(prices__item=["nothing"], prices__price=["1"]), Code.FIELD_CHOICE, "prices"
    )
    twice = typed(prices__item=["Lantern", "lantern"], prices__price=["1", "2"])
    refused(desk, PRICE_LISTS, fields | twice, Code.LIST_ITEMS, "prices")


def test_goods_of_a_family_are_one_tile_with_sizes(both: Desk) -> None:
    desk = both
    small = added(desk, ITEMS, item_typed(desk, "Wool cap S", family="Wool cap", size="S", colour="grey"))
    large = added(desk, ITEMS, item_typed(desk, "Wool cap L", family="wool CAP", size="L"))
    ((family, _),) = [(ref, one) for ref, one in everything(desk.house, FAMILIES).items() if one["name"] == "Wool cap"]
    found = stock.variants_of(desk.house.connection, family)
    assert [(one.item, one.size, one.colour) for one in found] == [(small, "S", "grey"), (large, "L", "")]
    change(desk.house, desk.boss, FAMILIES, Change(family, typed(code="CAPS")))
    assert stock.family_by_code(desk.house.connection, "CAPS") == family
    change(desk.house, desk.boss, ITEMS, Change(large, typed(family="")))
    assert [one.item for one in stock.variants_of(desk.house.connection, family)] == [small]
    undo(desk.house, desk.boss, KINDS, latest_changes(desk.house, ITEMS, large)[0].id)
    assert len(stock.variants_of(desk.house.connection, family)) == 2
    refused(desk, ITEMS, item_typed(desk, "Wool cap", family="Wool cap"), Code.VARIANT_OF, "size")


def test_quick_notes_are_offered_where_they_belong(both: Desk) -> None:
    desk, connection = both, both.house.connection
    for words, about, groups in (("with string", "item", "goods"), ("call first", "job", ""), ("loft", "place", "")):
        ref = added(desk, WORDS, typed(words=words, about=about, groups=groups))
    assert "with string" in prices.preset_notes(connection, "goods")
    assert "with string" not in prices.preset_notes(connection, "drinks")
    assert "call first" in prices.job_presets(connection, PresetAbout.JOB)
    assert prices.job_presets(connection, PresetAbout.PLACE)[-1] == "loft"
    change(desk.house, desk.boss, WORDS, Change(ref, typed(position="0")))
    assert "loft" in prices.job_presets(connection, PresetAbout.PLACE)[:2]
    retire(desk.house, desk.boss, WORDS, ref)
    assert "loft" not in prices.job_presets(connection, PresetAbout.PLACE)


def test_a_series_is_an_item_with_uses(both: Desk) -> None:
    desk = both
    oil, wax = (added(desk, ITEMS, item_typed(desk, name)) for name in ("Oil rub", "Wax rub"))
    fields = item_typed(desk, "Ten rubs", uses="10", days="200", items__item=[oil, wax], code="RUBS-10")
    ref = added(desk, SERIES, fields)
    kind = series.kind_of(desk.house, ref)
    assert kind is not None and (kind.uses, kind.days, set(kind.items)) == (10, 200, {oil, wax})
    assert everything(desk.house, ITEMS)[ref]["code"] == "RUBS-10"
    refused(desk, SERIES, fields | typed(name="A"), Code.CODE_TAKEN, "code")
    refused(desk, SERIES, fields | typed(name="B", code="", items__item=[""]), Code.SERIES_ITEMS, "items")
    refused(desk, SERIES, fields | typed(name="C", code="", tax=""), Code.SERIES_TAX, "items")
    refused(desk, SERIES, fields | typed(name="D", code="", uses="0"), Code.FIELD_RANGE, "uses")
    with pytest.raises(Refused) as refusal:  # from the other side, too
        change(desk.house, desk.boss, ITEMS, Change(oil, typed(tax="")))
    assert (refusal.value.code, refusal.value.where) == (Code.SERIES_TAX_OF, "tax")
    seen = latest_changes(desk.house, SERIES, ref)[0].id
    change(desk.house, desk.boss, ITEMS, Change(ref, typed(price="99")))  # the same thing by its other sheet
    with pytest.raises(Refused) as refusal:
        change(desk.house, desk.boss, SERIES, Change(ref, typed(price="12.50", uses="9"), seen))
    assert refusal.value.code == Code.CHANGED_MEANWHILE
    assert latest_changes(desk.house, SERIES, ref) == latest_changes(desk.house, ITEMS, ref)
    again = added(desk, SERIES, fields | typed(code="", name="Oil rub"))
    assert again == f"{oil}-2"  # never the id of another item
    retire(desk.house, desk.boss, SERIES, ref)
    assert not any(
        one.id == ref for one in catalogue.pick_page(desk.house, desk.tamsin, catalogue.Sought(q="Ten rubs")).items
    )


def test_a_membership_gives_what_its_rows_say(both: Desk) -> None:
    desk = both
    oil = added(desk, ITEMS, item_typed(desk, "Oil rub"))
    gives = typed(gives__name=["Oil free", "A tenth"], gives__percent=["100", "10"], gives__item=["Oil rub", ""],
                  gives__report_group=["", "goods"], gives__times=["2", ""])  # fmt: skip
    kind = added(desk, MEMBERSHIPS, typed(name="Circle", household="yes") | gives)
    found = benefits.gives(desk.house.connection, kind)
    assert [(one.name, one.percent, one.item, one.report_group, one.times) for one in found] == [
        ("Oil free", "100", oil, None, 2),
        ("A tenth", "10", None, "goods", None),
    ]
    sells = added(desk, MEMBERSHIP_ITEMS, item_typed(desk, "Circle, a year", kind=kind, months="12"))
    sold = memberships.sold_by(desk.house, sells)
    assert sold is not None and (sold.kind, sold.months) == (kind, 12)
    fewer = typed(gives__name=["A tenth"], gives__percent=["15"], gives__item=[""], gives__report_group=["goods"],
                  gives__times=[""])  # fmt: skip
    made = change(desk.house, desk.boss, MEMBERSHIPS, Change(kind, fewer))
    tenth = found[1].id
    assert [(one.id, one.percent) for one in benefits.gives(desk.house.connection, kind)] == [(tenth, "15")]
    assert made is not None
    undo(desk.house, desk.boss, KINDS, made)
    assert benefits.gives(desk.house.connection, kind) == found  # each is the one that it was
    both_ = gives | typed(gives__report_group=["goods", "goods"], name="Other")
    refused(desk, MEMBERSHIPS, both_, Code.BENEFIT_ON, "gives")
    signs = gives | typed(gives__name=["Oil; free", "A tenth"], name="Other")
    refused(desk, MEMBERSHIPS, signs, Code.ROW_SIGNS, "gives")
    retire(desk.house, desk.boss, MEMBERSHIPS, kind)
    assert kind not in dict(memberships.kinds(desk.house))


def test_what_is_hired_out_is_set_up_with_tariffs_and_units(both: Desk) -> None:
    desk = both
    tariffs = typed(tariffs__name=["two hours", "weekend"], tariffs__price=["9", "30"], tariffs__minutes=["2 h", ""],
                    tariffs__from=["", "5 16:00"], tariffs__to=["", "7 18:00"])  # fmt: skip
    terms = typed(value="180", grace="10", late_step="30", late_price="4", margin="25", share="0")
    cart = added(desk, HIRE, item_typed(desk, "Handcart") | tariffs | terms)
    rows = [one for one in hires_kept.list_tariffs(desk.house.connection) if one.item == cart]
    assert rows == [
        TariffRow(f"{cart}-1", cart, "two hours", 900, 120),
        TariffRow(f"{cart}-2", cart, "weekend", 3000, None, 4, "16:00", 6, "18:00"),
    ]
    unit = added(desk, UNITS, typed(name="H-1", item="Handcart", code="CART-1", note=""))
    assert unit == "H-1"
    refused(desk, UNITS, typed(name="H-1", item=cart), Code.CHOICE_TWICE, "name")
    (offer,) = hires.offers(desk.house, hires.start_of(desk.house, "", ""), cart)
    row, _, free = offer.tariffs[0]
    assert (row.name, [one.id for one in free]) == ("two hours", ["H-1"])
    with pytest.raises(Refused) as refusal:
        change(desk.house, desk.boss, UNITS, Change(unit, typed(name="H-2")))
    assert refusal.value.code == Code.NAME_STAYS
    neither = tariffs | typed(tariffs__minutes=["2 h", ""], tariffs__from=["", ""], tariffs__to=["", ""])
    refused(desk, HIRE, item_typed(desk, "Sled") | neither | terms, Code.TARIFF_LENGTH, "tariffs")
    refused(desk, HIRE, item_typed(desk, "Sled") | terms, Code.NO_TARIFFS, "tariffs")
    odd = tariffs | typed(tariffs__minutes=["two", ""])
    refused(desk, HIRE, item_typed(desk, "Sled") | odd | terms, Code.FIELD_SPAN, "tariffs")
    retire(desk.house, desk.boss, HIRE, cart)
    desk.house.forget()
    assert hires.offers(desk.house, hires.start_of(desk.house, "", ""), cart) == []
