"""What the rows of a file say that people held before: gift cards, vouchers, credits, series, memberships, points.

Rules here
- what is here already with the same left of it stays as it is; with another, the row is wrong: a file changes nothing
  that is here
- whose something is must be known before, by name and phone number; a name alone does where nobody else has it
- of what is used up or was ended nothing comes in
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.states import HeldKind, Tender
from abrazo.desk.context import House
from abrazo.desk.setup.fields import Field, FieldKind, Option, read
from abrazo.desk.setup.options import items_of, named, of_table
from abrazo.formats.phone import read_phone
from abrazo.store import brought, memberships, series, set_up, stored_value
from abrazo.store.brought import Known
from abrazo.store.set_up import Values

Row = Mapping[str, str]
RowReader = Callable[[Row], Values | None]  # what comes in by a row; None when nothing does. Refused when it is wrong


@dataclass(frozen=True, slots=True)
class Held:
    """A kind of what people hold: its columns, and who reads its rows.

    `once` is what no two rows of a file have the same; `also` are columns that a table that was written out has, and
    that say nothing when it comes in.
    """

    id: HeldKind
    fields: tuple[Field, ...]
    reader: Callable[[House], RowReader]
    once: tuple[str, ...] = ()
    also: tuple[str, ...] = ()

    def typed(self, house: House, row: Row) -> Values:
        """A row by its columns. Refused beside the first that is wrong."""
        return {one.id: read(house, one, [row.get(one.id, "")]) for one in self.fields}


class People:
    """Everybody who is known, by phone number and by name."""

    def __init__(self, house: House) -> None:
        self._region = house.settings.region
        self._by_phone = defaultdict[str, list[Known]](list)
        self._by_name = defaultdict[str, list[Known]](list)
        for one in brought.people(house.connection):
            self._by_phone[one.phone].append(one)
            self._by_name[one.name.casefold()].append(one)

    def find(self, name: str, phone: str) -> Known:
        """Who is meant. Refused when nobody is, or several could be."""
        if not (name or phone):
            raise Refused(Code.FIELD_MISSING, "person")
        number = read_phone(phone, self._region) if phone else ""
        found = self._by_phone[number] if number else self._by_name[name.casefold()]
        if number and name:
            found = [one for one in found if one.name.casefold() == name.casefold()]
        if not found:
            raise Refused(Code.BROUGHT_NOBODY, "person", name=name or phone)
        if len(found) > 1:
            raise Refused(Code.BROUGHT_NAMESAKES, "person", name=name or phone, count=len(found))
        return found[0]

    def of(self, values: Values) -> Known:
        """Whose a row is."""
        return self.find(str(values["person"]), str(values["phone"]))


WHO = "who"  # whose id, in what comes in by a row
WHOSE = (Field("person", empty=True), Field("phone", empty=True, longest=40))


def _other(where: str, here: object) -> Refused:
    return Refused(Code.BROUGHT_OTHER, where, here=str(here))


# ---- gift cards, vouchers, store credit

KINDS = (Tender.GIFT_CARD, Tender.VOUCHER, Tender.STORE_CREDIT)


def _stored_reader(house: House) -> RowReader:
    people, money = People(house), house.settings.currency.text
    rows = set_up.rows(house.connection, "item").values()
    items = {str(row["code"]): str(row["name"]) for row in rows if row["code"]}
    here = stored_value.everything(house.connection)
    known = {one.code or one.person: one for one in here}
    endings = {(one.kind, one.code[-4:], one.amount) for one in here if one.code}

    def row_of(row: Row) -> Values | None:
        values = STORED.typed(house, row)
        kind, whose, number = values["kind"], None, "".join(str(values["number"]).split())
        if kind == Tender.STORE_CREDIT:
            whose, number = people.of(values).id, ""  # it has none: there is one of each person
        elif not number:
            if (kind, values["ending"], values["balance"]) in endings:
                return None  # a row that was written out, where of the number only its end stands
            raise Refused(Code.FIELD_MISSING, "number")
        one = known.get(whose or number)
        if one and one.kind != kind:  # a number is that of one thing
            raise _other("number", one.kind)
        if one and one.amount != values["balance"]:
            raise _other("balance", money(one.amount))
        if number in items:
            raise Refused(Code.CODE_TAKEN, "number", name=items[number])
        return None if one else {**values, "number": number, WHO: whose}

    return row_of


STORED = Held(
    HeldKind.STORED_VALUE,
    (
        Field("kind", FieldKind.CHOICE, options=lambda _: named(KINDS)),
        Field("number", empty=True, longest=40),
        Field("ending", empty=True, longest=4),
        *WHOSE,
        Field("good_until", FieldKind.DATE, empty=True, nothing=None),
        Field("balance", FieldKind.MONEY),
    ),
    _stored_reader,
    once=("number", WHO),
    also=("made_at",),
)

# ---- series


def _series_of(house: House) -> list[Option]:
    kinds = set_up.rows(house.connection, "series_kind")
    return [one for one in items_of(house) if one.id in kinds]


def _series_reader(house: House) -> RowReader:
    people, today = People(house), house.business_date()
    here = defaultdict[tuple[object, ...], list[tuple[str, int]]](list)
    for one in series.sold(house.connection):
        here[one.person, one.item, one.until, one.uses].append((one.sold_on or "", one.uses - len(one.gone)))

    def row_of(row: Row) -> Values | None:
        values = SERIES.typed(house, row)
        uses, left, until = int(str(values["uses"])), int(str(values["left"])), str(values["until"])
        if left > uses:
            raise Refused(Code.FIELD_RANGE, "left", least=0, most=uses)
        whose = people.of(values).id
        known = here[whose, values["series"], until, uses]
        same = [one for one in known if values["sold_on"] in ("", one[0])]
        match = next((one for one in same if one[1] == left), None)
        if match:
            known.remove(match)
            return None
        if same:
            raise _other("left", same[0][1])
        if not left:
            return None
        if str(values["sold_on"]) > until:
            raise Refused(Code.LIST_DATES, "until")
        if until < today:
            raise Refused(Code.BROUGHT_OVER, "until")
        return {**values, WHO: whose, "sold_on": values["sold_on"] or today}

    return row_of


SERIES = Held(
    HeldKind.SERIES,
    (
        *WHOSE,
        Field("series", FieldKind.CHOICE, options=_series_of),
        Field("uses", FieldKind.WHOLE, least=1, most=999),
        Field("left", FieldKind.WHOLE, most=999),
        Field("sold_on", FieldKind.DATE, empty=True),
        Field("until", FieldKind.DATE),
        Field("worth", FieldKind.MONEY),
    ),
    _series_reader,
    also=("item", "gone"),
)

# ---- memberships


def _membership_reader(house: House) -> RowReader:
    people = People(house)
    here = defaultdict[tuple[object, ...], list[tuple[str, str]]](list)
    for one in memberships.standing(house.connection):
        here[one.person, one.kind].append((one.since, one.until))

    def row_of(row: Row) -> Values | None:
        values = MEMBERSHIPS.typed(house, row)
        if values["ended_at"]:
            return None
        days = str(values["since"]), str(values["until"])
        if days[1] < days[0]:
            raise Refused(Code.LIST_DATES, "until")
        whose = people.of(values).id
        known = here[whose, values["membership"]]
        if days in known:
            return None
        across = [one for one in known if one[0] <= days[1] and days[0] <= one[1]]
        if across:
            raise _other("since", " – ".join(across[0]))
        return {**values, WHO: whose}

    return row_of


MEMBERSHIPS = Held(
    HeldKind.MEMBERSHIPS,
    (
        *WHOSE,
        Field("membership", FieldKind.CHOICE, options=lambda house: of_table(house, "membership_kind")),
        Field("since", FieldKind.DATE),
        Field("until", FieldKind.DATE),
        Field("ended_at", empty=True),
    ),
    _membership_reader,
    once=(WHO, "membership", "since"),
)

# ---- points


def _points_reader(house: House) -> RowReader:
    people, here = People(house), stored_value.points_by_person(house.connection)

    def row_of(row: Row) -> Values | None:
        values = POINTS.typed(house, row)
        whose = people.of(values)
        if whose.company:
            raise Refused(Code.POINTS_OF_COMPANY, "person")
        if here.get(whose.id, 0) == values["points"]:
            return None
        if here.get(whose.id):
            raise _other("points", here[whose.id])
        return {**values, WHO: whose.id}

    return row_of


POINTS = Held(HeldKind.POINTS, (*WHOSE, Field("points", FieldKind.WHOLE)), _points_reader, once=(WHO,))
HELD: Mapping[str, Held] = {one.id: one for one in (STORED, SERIES, MEMBERSHIPS, POINTS)}
