"""The list of a pool of tips that was divided."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.desk.output.views.receipt import paper_date
from abrazo.formats.pool_list import PoolList
from abrazo.store.tip_pool import PoolDivision, PoolShare


def pool_list(house: House, division: PoolDivision, shares: list[PoolShare]) -> PoolList:
    """What the list of a pool says."""
    text, staff = house.settings.currency.text, house.staff()
    return PoolList(
        house.settings.name,
        paper_date(house, house.date_of(division.day)),
        house.hour(division.at),
        staff[division.staff].name,
        house.say("{measure:state}", measure=division.measure),
        tuple((staff[one.person].name, one.weight, text(one.amount)) for one in shares),
        text(division.amount),
        house.settings.language,
    )
