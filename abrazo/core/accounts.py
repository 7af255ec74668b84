"""What is owed, by age.

Rules here
- days since the invoice date fall into 0-30, 31-60, 61-90 and over 90
- what is received goes to the invoices that were chosen, the rest to the oldest first
- a statement's balance after each row is the one before it and the row; the last one is what is owed at its end
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from itertools import accumulate

from abrazo.core.money import total

AGES = ((30, "0-30"), (60, "31-60"), (90, "61-90"))
OLDEST = "over 90"


def age_of(invoiced_on: date, today: date) -> str:
    """The age in which an invoice stands today. An invoice dated ahead counts as new."""
    days = (today - invoiced_on).days
    return next((name for most, name in AGES if days <= most), OLDEST)


def aged(invoices: Iterable[tuple[date, int]], today: date) -> dict[str, int]:
    """What is owed by age, in minor units; every age is listed. Invoices are (date, minor units owed)."""
    found = {name: 0 for _, name in AGES} | {OLDEST: 0}
    for invoiced_on, owed in invoices:
        found[age_of(invoiced_on, today)] += owed
    return found


def balances(opening: int, amounts: Iterable[int]) -> list[int]:
    """What is owed after each of some amounts, in minor units: charges are above zero, what came in below."""
    return list(accumulate(amounts, initial=opening))[1:]


def still_owed(invoices: Sequence[tuple[str, int]], owed: int, chosen: Mapping[str, int]) -> dict[str, int]:
    """What is left of every invoice, in minor units. `invoices` are (id, amount), the oldest first.

    `owed` is the account's balance: all invoices less what came in for good; `chosen` what of that was meant for an
    invoice, at most its amount. What is beyond all invoices is paid ahead, and in none of them.
    """
    left = {id: amount - min(amount, chosen.get(id, 0)) for id, amount in invoices}
    received = total(amount for _, amount in invoices) - owed
    rest = received - total(amount - left[id] for id, amount in invoices)
    for id, amount in reversed(invoices):  # less came in than was meant: some of it went back
        back = max(0, min(-rest, amount - left[id]))
        left[id] += back
        rest += back
    for id, _ in invoices:
        paid = max(0, min(rest, left[id]))
        left[id] -= paid
        rest -= paid
    return left
