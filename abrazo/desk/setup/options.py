"""What fields of set-up are chosen from, and how rows of tables stand in their values."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from abrazo.desk.act import Act
from abrazo.desk.context import House
from abrazo.desk.setup.fields import Option
from abrazo.store import set_up
from abrazo.store.set_up import Value, Values


def named(values: Iterable[str]) -> list[Option]:
    """Options whose names are what is kept."""
    return [Option(str(one), str(one)) for one in values]


def of_table(house: House, table: str, name: str = "name") -> list[Option]:
    """The rows of a table; read once in a request."""

    def read() -> list[Option]:
        found = set_up.rows(house.connection, table)
        return [Option(ref, str(row[name]), row.get("ended_at") is not None) for ref, row in found.items()]

    return house.once(("options", table), read)


def categories_of(house: House) -> list[Option]:
    """The categories."""
    return of_table(house, "category")


def taxes_of(house: House) -> list[Option]:
    """The taxes."""
    return of_table(house, "tax", "label")


def groups_of(house: House) -> list[Option]:
    """The choice groups."""
    return of_table(house, "choice_group")


def items_of(house: House) -> list[Option]:
    """The items."""
    return of_table(house, "item")


def weekdays_of(_: House) -> list[Option]:
    """The days of the week, Monday is 1."""
    return named("1234567")


def rows_of(house: House, table: str, *truths: str, lists: Sequence[str] = ()) -> dict[str, Values]:
    """The rows of a table by their ids; `truths` are yes or no, `lists` are kept with semicolons between."""
    found = set_up.rows(house.connection, table)
    for row in found.values():
        row.update({name: bool(row[name]) for name in truths})
        row.update({name: [one for one in str(row[name] or "").split(";") if one] for name in lists})
    return found


def put_row(act: Act, table: str, ref: str, values: Values, lists: Sequence[str]) -> None:
    """Write a row of such a table."""
    kept: Values = {name: ";".join(texts_of(values[name])) for name in lists if name in values}
    set_up.put(act.connection, table, ref, values | kept)


def texts_of(value: Value) -> list[str]:
    """A list of texts."""
    return [str(one) for one in value] if isinstance(value, list) else []


def cells_of(value: Value) -> list[list[str]]:
    """Rows of texts."""
    return [row for row in value if isinstance(row, list)] if isinstance(value, list) else []


def pairs_of(value: Value) -> list[tuple[str, str]]:
    """Rows of two texts."""
    return [(row[0], row[1]) for row in cells_of(value)]
