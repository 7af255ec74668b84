"""Securing a hire with a card.

Rule here: a card is valid through the last day of its expiry month; that day must not be before the return date plus
the owner's margin in days (25 is common practice).
"""

from __future__ import annotations

from calendar import monthrange
from datetime import date, timedelta

USUAL_MARGIN = 25


def last_valid_day(year: int, month: int) -> date:
    """The last day on which a card with this expiry can be charged. Source: ISO/IEC 7813, expiry as year and month."""
    return date(year, month, monthrange(year, month)[1])


def secures(year: int, month: int, returned_on: date, margin_days: int = USUAL_MARGIN) -> bool:
    """Whether a card with this expiry secures a hire that ends on a date."""
    return last_valid_day(year, month) >= returned_on + timedelta(days=margin_days)
