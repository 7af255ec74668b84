"""Whether the books are sound: the journal's chain, every entry's balance, reports, stored value, goods, the file.

An unkeyed chain shows what was changed inside it; a tail that was reckoned anew shows only against a head that stands
on paper.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from abrazo.core.journal import Kind, chain_faults
from abrazo.core.layaway import KIND
from abrazo.core.ledger import STORED, Role, money_account
from abrazo.core.money import rest_of, total, totals
from abrazo.core.report import DayFigures, report
from abrazo.core.till import float_difference
from abrazo.desk.context import House
from abrazo.desk.till.views.day_figures import figures_of, figures_so_far
from abrazo.formats.sealed_report import read_sealed
from abrazo.store import advances, deposits, figures, journal, layaways, series, stock, stored_value, till
from abrazo.store.db import file_faults, reference_faults, snapshot


class Fault(StrEnum):
    """What can be wrong."""

    FILE = "file"
    GAP = "gap"
    PREVIOUS = "previous"
    HASH = "hash"
    BALANCE = "balance"
    HEAD = "head"
    SEALED = "sealed"
    REPORT = "report"
    DRAWER = "drawer"
    STORED_VALUE = "stored value"
    STOCK = "stock"


@dataclass(frozen=True, slots=True)
class Found:
    """A fault and where it is: the number of an entry, a day, an item."""

    fault: Fault
    where: str
    detail: str = ""


def soundness(house: House, head: str = "") -> list[Found]:
    """Every fault of the books; empty when they are sound. `head` is a head of the journal that stands on paper.

    All of it is read of one moment, also while others write.
    """
    with snapshot(house.connection):
        return list(_faults(house, head))


def _faults(house: House, head: str) -> Iterator[Found]:
    connection = house.connection
    broken = [Found(Fault.FILE, "", words) for words in file_faults(connection)]
    yield from broken
    if broken:
        return  # what else is read of it would be read at random
    yield from (Found(Fault.FILE, words) for words in reference_faults(connection))
    yield from (Found(Fault(fault), str(number)) for number, fault in chain_faults(journal.chain(connection)))
    if head and not journal.has_hash(connection, head):
        yield Found(Fault.HEAD, "", head)
    yield from _days(house)
    owed = stored_value.owed_by_kind(connection)
    owed[Role.SERIES] = total(one.in_books for one in series.sold(connection))
    tax_aside = layaways.held_tax(connection)
    owed[KIND] = rest_of(total(one.held for one in layaways.holding(connection)), tax_aside)
    if journal.posted_by(connection, STORED[KIND], Kind.ADVANCE_TAX) != tax_aside:
        yield Found(Fault.STORED_VALUE, Kind.ADVANCE_TAX)
    for kind in (Role.GIFT_CARD, Role.VOUCHER, Role.STORE_CREDIT, Role.SERIES, KIND):
        if -journal.balance(connection, STORED[kind]) != owed.get(kind, 0):
            yield Found(Fault.STORED_VALUE, kind)
    deposits_in_books = journal.posted_by(connection, STORED[Role.DEPOSIT], Kind.ADVANCE_TAX)
    if deposits_in_books != advances.held_tax(connection):
        yield Found(Fault.STORED_VALUE, Kind.ADVANCE_TAX)
    held = total(one.amount for one in deposits.everything(connection))
    if total((-journal.balance(connection, STORED[Role.DEPOSIT]), deposits_in_books)) != held:
        yield Found(Fault.STORED_VALUE, Role.DEPOSIT)
    yield from (Found(Fault.STOCK, item) for item in stock.not_following(connection))


def _days(house: House) -> Iterator[Found]:
    ids = list(till.dates_of(house.connection))
    days, sealed = till.read_days(house.connection, ids), figures.sealed(house.connection, ids)
    for day_id, day in days.items():
        if day_id in sealed:
            entries, head = figures.head_of(house.connection, day_id) or (0, "")
            if journal.hash_of(house.connection, entries) != head:
                yield Found(Fault.HEAD, day.business_date)
            kept = read_sealed(sealed[day_id])
            if _posted(kept) != _posted(figures_so_far(house, day)):
                yield Found(Fault.SEALED, day.business_date)
            yield from (Found(Fault.DRAWER, one) for one in _drawers(house, day_id, kept))
        if report(figures_of(house, [day_id])[0]).difference:
            yield Found(Fault.REPORT, day.business_date)


def _drawers(house: House, day_id: int, kept: DayFigures) -> Iterator[str]:
    """The tills of a closed day whose account moved by another sum than their drawer."""
    moved = totals(
        (one.till, float_difference(one.left, one.taken_over)) for one in kept.drawers if one.left is not None
    )
    for till_id, amount in moved.items():
        if figures.moved_on(house.connection, money_account("cash", till_id), day_id) != amount:
            yield f"{kept.date} {till_id}"


def _posted(day: DayFigures) -> tuple[object, ...]:
    """What is made of entries and rows; names may change, these may not."""
    return day.sums, day.drawers, day.open_before, day.open_after, day.first_sale, day.last_sale
