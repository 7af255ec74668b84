"""Prices and tax rates from a day to come: planned, made when its day opens, taken back, refused; open tickets follow."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import PlanOutcome, TaxMode
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import closing
from abrazo.desk.setup import house_settings, planned
from abrazo.desk.setup.goods import CATEGORIES, GROUPS, ITEMS, TAXES
from abrazo.desk.setup.house_settings import ONE, SETTINGS
from abrazo.desk.setup.thing_files import read_in, written
from abrazo.desk.setup.things import Change, Thing, change, everything, latest_changes, retire
from abrazo.desk.tickets.followed_taxes import follow_by_itself
from abrazo.formats.table_file import written_csv
from abrazo.store import journal, set_up_plans
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.payments.test_set_aside import kept, part
from tests.desk.scenes import wren
from tests.desk.setup.test_more_kinds import added, item_typed
from tests.desk.test_both_houses import pay, sale
from tests.desk.test_clock import DAY, a_night


def in_days(desk: Desk, days: int) -> str:
    return (desk.clock.time.date() + timedelta(days=days)).isoformat()


def plan(desk: Desk, thing: Thing, ref: str, first_on: str, **typed: str) -> int | None:
    wanted = Change(ref, {id: [one] for id, one in typed.items()})
    made = planned.plan(desk.house, desk.boss, thing, wanted, first_on, desk.key())
    desk.house.forget()
    return made


def test_a_price_holds_from_the_day_that_opens(both: Desk) -> None:
    desk, lamp = both, added(both, ITEMS, item_typed(both, "Lamp"))
    tomorrow = in_days(desk, 1)
    first = plan(desk, ITEMS, lamp, tomorrow, price="14")
    second = plan(desk, ITEMS, lamp, in_days(desk, 2), price="15")
    assert plan(desk, ITEMS, lamp, tomorrow, price="12.50") is None  # as it is
    assert [one.price for one in [desk.house.item(lamp)] if one] == [1250]
    a_night(desk, again=False, later=DAY)
    assert everything(desk.house, ITEMS)[lamp]["price"] == 1400
    made = latest_changes(desk.house, ITEMS, lamp)[0]
    assert (made.staff, made.before, made.after) == (desk.boss.staff.id, {"price": 1250}, {"price": 1400})
    assert first is not None and second is not None
    with pytest.raises(Refused) as refusal:
        planned.take_back(desk.house, desk.boss, first)
    assert refusal.value.code == Code.PLAN_OVER
    planned.take_back(desk.house, desk.boss, second)
    a_night(desk, again=False, later=DAY)
    assert everything(desk.house, ITEMS)[lamp]["price"] == 1400
    assert planned.all_planned(desk.house) == []


def test_refused_when_it_is_planned_or_when_it_is_due(both: Desk) -> None:
    desk, lamp = both, added(both, ITEMS, item_typed(both, "Lamp"))
    for typed, code in (
        (in_days(desk, 0), Code.PLAN_PAST),
        (in_days(desk, -3), Code.PLAN_PAST),
        ("soon", Code.NOT_DATE),
    ):
        with pytest.raises(Refused) as refusal:
            plan(desk, ITEMS, lamp, typed, price="14")
        assert (refusal.value.code, refusal.value.where) == (code, "holds_from")
    with pytest.raises(Refused) as refusal:
        plan(desk, ITEMS, lamp, in_days(desk, 1), price="much")
    assert refusal.value.where == "price"
    made = plan(desk, ITEMS, lamp, in_days(desk, 1), code="LAMP")
    added(desk, ITEMS, item_typed(desk, "Other lamp", code="LAMP"))  # has it first
    a_night(desk, again=False, later=DAY)
    (left,) = planned.all_planned(desk.house)
    assert (left.id, left.outcome) == (made, PlanOutcome.REFUSED)
    planned.take_back(desk.house, desk.boss, left.id)
    assert planned.all_planned(desk.house) == []
    with pytest.raises(Refused) as refusal:
        planned.plan(desk.house, desk.tamsin, ITEMS, Change(lamp, {"price": ["1"]}), in_days(desk, 1), desk.key())
    assert refusal.value.code == Code.RIGHT_SET_UP


def test_a_file_of_prices_for_next_season(both: Desk) -> None:
    desk, lamp = both, added(both, ITEMS, item_typed(both, "Lamp"))
    rows = written(desk.house, ITEMS)
    price, old = rows[0].index("price"), {one[0]: everything(desk.house, ITEMS)[one[0]]["price"] for one in rows[1:]}
    for row in rows[1:]:
        row[price] = "77.00"
    read_in(desk.house, desk.boss, ITEMS, written_csv(rows).encode(), desk.key(), in_days(desk, 1))
    desk.house.forget()
    assert {ref: one["price"] for ref, one in everything(desk.house, ITEMS).items() if ref in old} == old
    a_night(desk, again=False, later=DAY)
    assert {one["price"] for ref, one in everything(desk.house, ITEMS).items() if ref in old} == {7700}
    assert lamp in old


def test_another_rate_is_another_tax_for_all_that_bore_it(both: Desk) -> None:
    """Directive 2006/112/EC, article 93 (from memory): the rate is that of the day of the chargeable event."""
    desk = both
    lamp = added(desk, ITEMS, item_typed(desk, "Lamp"))
    tax = str(everything(desk.house, ITEMS)[lamp]["tax"])
    change(desk.house, desk.boss, SETTINGS, Change(ONE, {"surcharge_tax": [tax]}))
    free = {"label": ["Tax of nothing"], "rate": ["3"], "surcharge": []}
    nobodys = added(desk, TAXES, free)
    change(desk.house, desk.boss, SETTINGS, Change(ONE, {"delivery_tax": [nobodys]}))
    with pytest.raises(Refused) as refusal:
        retire(desk.house, desk.boss, TAXES, nobodys)
    assert refusal.value.code == Code.TAX_IN_SETTINGS
    closed = sale(desk, [lamp])
    pay(desk, closed)
    with pytest.raises(Refused) as refusal:
        change(desk.house, desk.boss, TAXES, Change(tax, {"rate": ["50"]}))
    assert refusal.value.code in (Code.TAX_IN_USE, Code.TAX_PARTS)
    typed = {"label": "Tax 50 %", "rate": "50", "parts-label": "", "parts-rate": ""}
    plan(desk, TAXES, tax, in_days(desk, 1), **typed)
    a_night(desk, again=False, later=DAY)
    items = everything(desk.house, ITEMS)
    now = str(items[lamp]["tax"])
    assert now != tax and tax not in {str(one["tax"]) for one in items.values()}
    assert everything(desk.house, SETTINGS)[ONE]["surcharge_tax"] == now
    assert everything(desk.house, TAXES)[tax]["ended_at"] is not None
    assert {line.tax for line in desk.whole(closed).standing} == {tax}
    (bill,) = [one for one in desk.whole(sale(desk, [lamp, lamp])).bill.taxes if one.tax]
    assert (bill.id, bill.tax) == (now, 833 if both.of.plan.settings.tax_mode == TaxMode.INCLUSIVE else 1250)
    assert follow_by_itself(desk.house) == 0
    holds(desk)


@pytest.mark.parametrize("taxed", [True, False])
def test_goods_set_aside_bear_the_rate_of_the_day_they_are_handed_over(desk: Desk, taxed: bool) -> None:
    house_settings.decide(desk.house, desk.boss, "tax_on_advances", "yes" if taxed else "no")
    number = kept(desk)
    (tax,) = {str(line.tax) for line in desk.whole(number).standing}
    plan(desk, TAXES, tax, in_days(desk, 1), label="VAT 50 %", rate="50")
    a_night(desk, again=False, later=DAY)
    holds(desk)
    (bill,) = [one for one in desk.whole(number).bill.taxes if one.tax]
    assert (bill.base, bill.tax) == (3300, 1100)
    said = [one for one in journal.of_ticket(desk.house.connection, number) if one.kind == Kind.TAX_FOLLOWED]
    assert [one.facts["now"] for one in said] == ["VAT 50 %"]
    assert set_up_plans.tickets_to_follow(desk.house.connection) == []
    part(desk, number, 2600)
    closing.free_table(desk.house, wren(desk), desk.on(number))
    assert sum(desk.balance(f"liabilities:tax:{id}") for id in (tax, bill.id)) == -1100
    holds(desk)
    assert soundness(desk.house) == []


def test_only_what_can_wait_does(both: Desk) -> None:
    assert all(planned.can_wait(one) for one in (ITEMS, GROUPS, TAXES)) and not planned.can_wait(CATEGORIES)
