"""What is owed to customers, as it stands and as it stood at the end of a day: kept when a day is closed."""

from __future__ import annotations

from abrazo.core.layaway import KIND
from abrazo.core.ledger import Role
from abrazo.core.loyalty import booked_worth
from abrazo.desk.context import House
from abrazo.store import deposits, layaways, owed_standing, series, stored_value
from abrazo.store.owed_standing import OwedStanding

POINTS = "points"


def standing_now(house: House) -> list[OwedStanding]:
    """Every gift card, voucher and credit there ever was, what is held of deposits and left of series, all points."""
    lot, value = house.settings.points_lot, house.settings.points_value
    found = [OwedStanding(one.kind, one.id, one.amount) for one in stored_value.everything(house.connection)]
    found += [OwedStanding(Role.DEPOSIT, one.line, one.amount) for one in deposits.everything(house.connection)]
    found += [OwedStanding(Role.SERIES, one.id, one.in_books) for one in series.sold(house.connection)]
    found += [OwedStanding(KIND, one.ticket, one.held) for one in layaways.holding(house.connection)]
    points = stored_value.points_by_person(house.connection)
    return found + [
        OwedStanding(POINTS, who, booked_worth(number, lot, value), number) for who, number in points.items()
    ]


def keep_standing(house: House, day: int) -> None:
    """Keep what changed since the last day that was closed; inside the transaction that closes this one."""
    before = {(one.kind, one.ref): one for one in owed_standing.until(house.connection, day)}
    now = {(one.kind, one.ref): one for one in standing_now(house)}
    gone = [OwedStanding(one.kind, one.ref, 0) for key, one in before.items() if one.amount and key not in now]
    changed = [one for key, one in now.items() if one != before.get(key, OwedStanding(*key, 0))]
    owed_standing.add(house.connection, day, changed + gone)
