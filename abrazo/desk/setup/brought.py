"""What people held before a house kept it here comes in from files: first looked at, then all or nothing.

Rules here
- what comes in goes into the books of the open day, against the opening balances, as one entry for a file
- all of a file can be taken back on the same business day, while nothing of it was used
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, together
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import OPENING, Role
from abrazo.core.loyalty import booked_worth
from abrazo.core.money import total
from abrazo.core.opening import brought_in, points_brought_in
from abrazo.core.states import HeldKind, Right, Tender
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.setup.brought_rows import HELD, KINDS, WHO, Held
from abrazo.desk.setup.thing_files import RowFault, faults_of, rows_of_file
from abrazo.store import brought, journal, memberships, series, stored_value
from abrazo.store.brought import BroughtIn as BroughtIn
from abrazo.store.memberships import Membership
from abrazo.store.series import Series
from abrazo.store.set_up import Values
from abrazo.store.stored_value import Stored

LATEST = 20  # files that are listed


@dataclass(frozen=True, slots=True)
class Look:
    """What a file would bring in; of how many rows nothing comes; what is wrong; what is owed then, in minor units."""

    new: list[Values] = field(default_factory=list)
    same: int = 0
    faults: list[RowFault] = field(default_factory=list)
    more_faults: int = 0
    unknown: tuple[str, ...] = ()
    owed: int = 0


def look_at(house: House, held: Held, data: bytes) -> Look:
    """What a file would bring in. Refused when it is no table; what is wrong in its rows stands in what it gives."""
    house = replace(house, memo={})  # what all rows ask for is read once
    rows = rows_of_file(data)
    named = {name for _, row in rows[:1] for name in row}
    columns = [one.id for one in held.fields]
    if rows and not all(one.id in named for one in held.fields if not one.empty):
        raise Refused(Code.TABLE_COLUMNS, "file", columns=", ".join(columns))
    reader, new, seen = held.reader(house), list[Values](), dict[tuple[object, ...], int]()

    def look(number: int, row: Mapping[str, str]) -> None:
        found = reader(row)
        key = tuple((found or {}).get(id) for id in held.once)
        if found and key and seen.setdefault(key, number) != number:
            raise Refused(Code.ROW_TWICE, held.fields[0].id, number=seen[key])
        if found:
            new.append(found)

    faults, more = faults_of(rows, look)
    same = len(rows) - len(new) - len(faults) - more
    unknown = tuple(sorted(named - {*columns, *held.also}))
    return Look(new, same, faults, more, unknown, _owed(_booked(house, held, new)))


def _owed(booked: Booked) -> int:
    """What the house owes more by an entry, in minor units."""
    return total(one.amount for one in booked.postings if one.account == OPENING)


def _booked(house: House, held: Held, rows: Sequence[Values]) -> Booked:
    if held.id is HeldKind.POINTS:
        each = [int(str(row["points"])) for row in rows]
        lot, value = house.settings.points_lot, house.settings.points_value
        return points_brought_in(total(each), total(booked_worth(points, lot, value) for points in each))
    return _of_kinds((str(row.get("kind", Role.SERIES)), _amount(row)) for row in rows)


def _amount(row: Values) -> int:
    """What a row is owed at, in minor units."""
    return int(str(row.get("balance", row.get("worth", 0))))


def _of_kinds(amounts: Iterable[tuple[str, int]]) -> Booked:
    """The entry for so much each of kinds of stored value, in minor units."""
    found = list(amounts)
    return together(*(brought_in(kind, [one for of, one in found if of == kind]) for kind in (*KINDS, Role.SERIES)))


def bring_in(house: House, actor: Actor, held: Held, data: bytes, name: str, key: str) -> Look:
    """Do what a file says, all of it in one act. Refused with what is wrong when anything is, and nothing is done."""
    seen, look = journal.head(house.connection), look_at(house, held, data)  # before the others have to wait for it
    with acting(house, actor, f"bring in {held.id}", key, "file", needs=Right.SET_UP) as act:
        if act.done is not None:
            return Look()
        if journal.head(house.connection) != seen:  # somebody did something meanwhile
            look = look_at(house, held, data)
        if look.faults:
            raise Refused(Code.TABLE_FAULTS, "file", count=len(look.faults) + look.more_faults)
        if look.new:
            facts = (held.id, name[:120], len(look.new), look.owed, act.day, act.at, actor.staff.id, actor.till.id)
            file = brought.add(act.connection, BroughtIn(0, *facts))
            for row in look.new:
                KEEP[held.id](act, row, file)
            act.record(Kind.BROUGHT_IN, None, _booked(house, held, look.new), what=held.id, number=len(look.new),
                       amount=look.owed, file=file, name=Personal(name[:120]))  # fmt: skip
        return look


def _keep_stored(act: Act, row: Values, file: int) -> None:
    is_credit = row["kind"] == Tender.STORE_CREDIT
    number, good_until = str(row["number"]) or None, str(row["good_until"] or "") or None
    facts = (str(row["kind"]), None if is_credit else number, _who(row) if is_credit else None, act.at)
    balance = int(str(row["balance"]))
    stored_value.add(act.connection, Stored(0, *facts, act.actor.staff.id, good_until, balance, file))


def _who(row: Values) -> int:
    return int(str(row[WHO]))


def _keep_series(act: Act, row: Values, file: int) -> None:
    uses, left = int(str(row["uses"])), int(str(row["left"]))
    days = str(row["sold_on"]), str(row["until"])
    facts = (None, str(row["series"]), _who(row), uses, int(str(row["worth"])), *days, None, None, "")
    series.bring(act.connection, Series(0, *facts, had_before=uses - left, brought=file))


def _keep_membership(act: Act, row: Values, file: int) -> None:
    facts = (_who(row), str(row["membership"]), "", str(row["since"]), str(row["until"]))
    memberships.add(act.connection, Membership(0, *facts, brought=file), act.actor.staff.id)


def _keep_points(act: Act, row: Values, file: int) -> None:
    stored_value.bring_points(act.connection, _who(row), int(str(row["points"])), act.at, file)


KEEP: Mapping[HeldKind, Callable[[Act, Values, int], None]] = {
    HeldKind.STORED_VALUE: _keep_stored,
    HeldKind.SERIES: _keep_series,
    HeldKind.MEMBERSHIPS: _keep_membership,
    HeldKind.POINTS: _keep_points,
}
assert set(KEEP) == set(HELD)


def latest(house: House) -> list[BroughtIn]:
    """The files that were brought in last, the latest first."""
    return brought.latest(house.connection, LATEST)


def take_back(house: House, actor: Actor, file: int) -> None:
    """All that came with a file is here no more. Refused on a later day, and when anything of it was used."""
    with acting(house, actor, "bring back", needs=Right.SET_UP) as act:
        one = brought.read(act.connection, file)
        if one is None:
            raise NotFound(f"no file {file} was brought in")
        if one.taken_back_at:
            return
        if one.day != act.day:
            raise Refused(Code.BROUGHT_DAY_OVER, "taken_back")
        if brought.is_used(act.connection, one):
            raise Refused(Code.BROUGHT_USED, "taken_back")
        booked = _came_with(act, one).turned()
        brought.take_back(act.connection, one, act.at, actor.staff.id)
        act.record(Kind.NOT_BROUGHT_IN, None, booked, what=one.kind, number=one.number, amount=one.amount, file=file,
                   name=Personal(one.name))  # fmt: skip


def _came_with(act: Act, one: BroughtIn) -> Booked:
    """What a file booked when it came in."""
    if one.kind is HeldKind.POINTS:
        return points_brought_in(brought.points(act.connection, one.id), one.amount)
    return _of_kinds(brought.amounts(act.connection, one.id))
