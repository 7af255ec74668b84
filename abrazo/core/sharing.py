"""Who covers what, to the cent.

Rules here
- `apportion`: largest remainder (Hamilton); ties to the earlier
- `stated_cells`: somebody who gives a stated amount has that much of every row, in proportion
- `round_table`: controlled rounding of a whole table (Bacharach 1966, Cox 1987): every cell is the floor or ceiling of
  its exact value, rows and columns add up, and the columns' totals are as near to the exact ones as such a table allows

Nobody else in the house hands out leftovers.
"""

from __future__ import annotations

from array import array
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import lcm
from operator import mul
from sys import byteorder

from abrazo.core.errors import Code, Refused


@dataclass(frozen=True, slots=True)
class Guest:
    """Somebody who had something."""

    id: str
    name: str | None = None


@dataclass(frozen=True, slots=True)
class Payer:
    """Somebody who pays, for one or more guests; `amount` only when the bill is split by amounts."""

    id: str
    guests: tuple[str, ...] = ()
    amount: int | None = None


@dataclass(frozen=True, slots=True)
class Row:
    """An amount in minor units (0 or more) and one whole weight for each column."""

    amount: int
    weights: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Table:
    """A rounded table: `cells[row][column]` and the columns' totals, in minor units."""

    cells: tuple[tuple[int, ...], ...]
    totals: tuple[int, ...]


def whole_weights(weights: Sequence[Fraction | int]) -> tuple[int, ...]:
    """The same weights in whole numbers."""
    scale = lcm(*(weight.denominator for weight in weights))
    return tuple(weight.numerator * (scale // weight.denominator) for weight in weights)


def apportion(total: int, weights: Sequence[Fraction | int]) -> tuple[int, ...]:
    """Cut a total into whole parts by weight: floors, then one unit each to the largest fractions, ties to the earlier.

    Weights are 0 or more; all zero is an error unless the total is 0. Source: largest remainder method (Hamilton).
    """
    whole = whole_weights(weights)
    if any(weight < 0 for weight in whole):
        raise ValueError("weights are never negative")
    base = sum(whole)
    if base == 0:
        if total:
            raise ValueError("nothing to apportion by: all weights are 0")
        return (0,) * len(whole)
    parts = [total * weight // base for weight in whole]
    left = total - sum(parts)
    for index in sorted(range(len(whole)), key=lambda i: (-(total * whole[i] % base), i))[:left]:
        parts[index] += 1
    return tuple(parts)


def stated_cells(amounts: Sequence[int], rows: Sequence[int]) -> list[tuple[int, ...]]:
    """What those who give a stated amount have of every row, one after the other, in proportion to what is left of it.

    All in minor units; the cells of one add up to their amount, no row is used up beyond what it has. Refused when
    the amounts come to more than the rows.
    """
    left, found = list(rows), list[tuple[int, ...]]()
    for amount in amounts:
        if amount > sum(left):
            raise Refused(Code.STATED_TOO_MUCH, "/payers")
        cells = apportion(amount, left)
        left = [has - cell for has, cell in zip(left, cells, strict=True)]
        found.append(cells)
    return found


def _column_sums(rows: Sequence[Row], columns: int) -> tuple[list[int], int]:
    """The exact sum of every column as whole numbers over one common denominator."""
    if columns == 1:
        return [sum(row.amount for row in rows if row.weights[0])], 1
    by_base: dict[int, tuple[list[int], list[tuple[int, ...]]]] = {}  # small numbers are added before large ones
    for row in rows:
        base = sum(row.weights)
        if base:
            amounts, weights = by_base.setdefault(base, ([], []))
            amounts.append(row.amount)
            weights.append(row.weights)
    scale = lcm(*by_base)
    sums = [0] * columns
    for base, (amounts, weights) in by_base.items():
        times, products = scale // base, _products(amounts, weights, base)
        sums = [has + times * product for has, product in zip(sums, products, strict=True)]
    return sums, scale


def _products(amounts: list[int], weights: list[tuple[int, ...]], base: int) -> Iterable[int]:
    """What amount times weight comes to in each column, for rows whose weights add up to `base`.

    A row's weights side by side in one long integer are multiplied all at once; only where a sum would not fit beside
    its neighbours are they multiplied one by one.
    """
    if len(amounts) * max(amounts) * base >= 1 << 64:
        return [sum(map(mul, amounts, column)) for column in zip(*weights, strict=True)]
    side_by_side = (int.from_bytes(array("Q", row).tobytes(), byteorder) for row in weights)
    together = sum(map(mul, amounts, side_by_side))
    return array("Q", together.to_bytes(8 * len(weights[0]), byteorder))


def exact_columns(rows: Sequence[Row], columns: int) -> list[Fraction]:
    """The exact sum of every column, in minor units."""
    sums, scale = _column_sums(rows, columns)
    return [Fraction(value, scale) for value in sums]


def column_weights(rows: Sequence[Row], columns: int) -> tuple[int, ...]:
    """Whole numbers that stand to one another as the exact sums of the columns do."""
    return tuple(_column_sums(rows, columns)[0])


def rounded_columns(rows: Sequence[Row], columns: int) -> tuple[int, ...]:
    """The exact sum of every column, rounded half-up once, in minor units."""
    sums, scale = _column_sums(rows, columns)
    return tuple((2 * value + scale) // (2 * scale) for value in sums)


def round_table(rows: Sequence[Row], columns: int) -> Table:
    """Round the table of exact cells `amount x weight / sum of weights`.

    Every cell is the floor or ceiling of its exact value (an exact cell stays), every row adds up to its amount, every
    column's total is the floor or ceiling of its exact sum and their sum is the sum of the rows. Among those the one
    with the least sum of squared differences between totals and exact sums; ties favour earlier columns.

    How: floors first. What is missing in a row is a number of cells to raise by one. Raising cells so that each column
    reaches its floor is a flow; the columns that can then take one more form a matroid, so taking them greedily by the
    size of their fraction is optimal. Each step is one augmenting path over the cells that are not exact.
    """
    table = _Raising(rows, columns)
    sums, scale = _column_sums(rows, columns)
    floors, fractions = [value // scale for value in sums], [value % scale for value in sums]
    reached = map(sum, zip(*table.cells, strict=True)) if rows else [0] * columns
    table.fill([floor - has for floor, has in zip(floors, reached, strict=True)])
    spare = sum(row.amount for row in rows) - sum(floors)
    for column in sorted((j for j in range(columns) if fractions[j]), key=lambda j: (-fractions[j], j)):
        if spare and table.raise_one(column):
            floors[column] += 1
            spare -= 1
    if spare:
        raise AssertionError("a table of consistent rows always has a controlled rounding")
    return Table(tuple(map(tuple, table.cells)), tuple(floors))


class _Raising:
    """Cells at their floor, some of them raised by one; moves raised units along augmenting paths."""

    def __init__(self, rows: Sequence[Row], columns: int) -> None:
        self.columns = columns
        self.cells: list[list[int]] = []
        self.left: list[int] = []  # units that a row has still to give
        self.open: list[list[int]] = []  # columns in which a row's cell is not exact
        self.first: list[list[int]] = [[] for _ in rows]  # columns raised by `fill`, in its order
        self._raised: dict[int, set[int]] = {}
        self._rows_of: list[list[int]] = []
        self._givers: Sequence[int] = range(len(rows))
        everywhere = list(range(columns))
        for row in rows:
            amount, weights = row.amount, row.weights
            base = sum(weights) or 1
            floor_of = {weight: amount * weight // base for weight in set(weights)}  # few weights, many columns
            floors = list(map(floor_of.__getitem__, weights))
            self.cells.append(floors)
            self.left.append(amount - sum(floors))
            exact = {weight for weight in floor_of if not amount * weight % base}
            self.open.append([j for j, weight in enumerate(weights) if weight not in exact] if exact else everywhere)

    def fill(self, wanted: list[int]) -> None:
        """Raise `wanted[column]` cells in every column; the neediest columns first, then by augmenting paths."""
        # One number a column sorts by what it wants, most first, then by its place; 0 or less wants nothing.
        size = self.columns + 1
        codes = [want * size - column for column, want in enumerate(wanted)]
        for row, columns in enumerate(self.open):
            left = self.left[row]
            if not left:
                continue
            here = codes if len(columns) == self.columns else [codes[j] for j in columns]
            served = sorted(here, reverse=True)[:left]
            if served[-1] <= 0:
                served = [code for code in served if code > 0]
            cells, mine = self.cells[row], [-code % size for code in served]
            for column in mine:
                cells[column] += 1
                codes[column] -= size
            self.first[row], self.left[row] = mine, left - len(mine)
        for column, code in enumerate(codes):
            for _ in range((code + column) // size):
                if not self.raise_one(column):
                    raise AssertionError("every column can reach the floor of its exact sum")

    def raise_one(self, column: int) -> bool:
        """Give a column one more unit, moving others' units between rows where needed; False when it cannot be."""
        for row in self._giving():  # most often a row of its own has one to give
            if column in self.open[row] and column not in self.raised(row):
                self.left[row] -= 1
                self._raise(row, column)
                return True
        return self._raise_along_a_path(column)

    def _giving(self) -> Sequence[int]:
        """Rows that have units to give; they only become fewer."""
        self._givers = [row for row in self._givers if self.left[row]]
        return self._givers

    def _raise_along_a_path(self, column: int) -> bool:
        came_by: dict[int, tuple[int, int]] = {}  # column -> (row whose unit would leave it, column that gets it)
        queue, seen_rows, seen_columns = [column], set[int](), {column}
        for current in queue:
            for row in self._rows_with(current):
                if row in seen_rows or current in self.raised(row):
                    continue
                if self.left[row]:
                    self.left[row] -= 1
                    self._raise(row, current)
                    self._walk_back(current, column, came_by)
                    return True
                seen_rows.add(row)
                for other in self.raised(row) - seen_columns:
                    seen_columns.add(other)
                    came_by[other] = (row, current)
                    queue.append(other)
        return False

    def raised(self, row: int) -> set[int]:
        """The columns in which a row's cell is raised."""
        found = self._raised.get(row)
        if found is None:
            found = self._raised[row] = set(self.first[row])
        return found

    def _rows_with(self, column: int) -> list[int]:
        """Rows whose cell in a column is not exact; gathered when the first path is looked for."""
        if not self._rows_of:
            self._rows_of = [[] for _ in range(self.columns)]
            for row, columns in enumerate(self.open):
                for one in columns:
                    self._rows_of[one].append(row)
        return self._rows_of[column]

    def _walk_back(self, current: int, goal: int, came_by: dict[int, tuple[int, int]]) -> None:
        while current != goal:
            row, previous = came_by[current]
            self._lower(row, current)
            self._raise(row, previous)
            current = previous

    def _raise(self, row: int, column: int) -> None:
        self.raised(row).add(column)
        self.cells[row][column] += 1

    def _lower(self, row: int, column: int) -> None:
        self.raised(row).discard(column)
        self.cells[row][column] -= 1


def line_weights(
    shares: tuple[tuple[str, int], ...],
    guests: Sequence[Guest],
    payers_of: Mapping[str, Sequence[int]],
    columns: int,
    where: str,
) -> tuple[int, ...]:
    """A payer's weight on a line: the sum of its guests' weights. A line without shares belongs to all guests alike.

    A guest with weight belongs to exactly one payer, else the line is refused.
    """
    weights = [0] * columns
    for guest, weight in shares or tuple((guest.id, 1) for guest in guests):
        if not weight:
            continue
        if len(payers_of[guest]) != 1:
            code = Code.TWO_PAYERS if payers_of[guest] else Code.NOBODY_PAYS
            raise Refused(code, where, guest=guest)
        weights[payers_of[guest][0]] += weight
    return tuple(weights)
