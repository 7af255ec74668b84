"""What is owed, by age.

Rule here: days since the invoice date fall into 0-30, 31-60, 61-90 and over 90.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

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
