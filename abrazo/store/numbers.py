"""The next number of a ticket, job, hire or of goods set aside, by the house's series.

Rules here
- a kind has a series of its own, or all share one; a series is the house's, or each till has its own
- a till's numbers lie in a block of their own, so that no two things of a kind ever have the same number
- a number once given stays, also when the house decides otherwise
"""

from __future__ import annotations

from enum import StrEnum

from abrazo.store.db import Connection


class Series(StrEnum):
    """What is numbered; the name of its table."""

    TICKET = "ticket"
    JOB = "job"
    HIRE = "hire"
    LAYAWAY = "layaway"


FIRST = {Series.TICKET: 2101, Series.JOB: 1031, Series.HIRE: 1021, Series.LAYAWAY: 1001}
LAST = """
coalesce((SELECT n.number FROM {series} n WHERE (:series = '{series}' OR b.one_series)
            AND n.number >= b.low AND n.number < b.low + 1000000 ORDER BY n.number DESC LIMIT 1), 0)"""
NEXT = f"""
WITH b AS (
  SELECT one_series, 1000000 * CASE WHEN numbers_by_till THEN coalesce((SELECT block FROM till WHERE id = :till), 0)
    ELSE 0 END AS low FROM settings)
SELECT coalesce(nullif(max({",".join(LAST.format(series=one) for one in Series)}), 0) + 1,
                CASE b.low WHEN 0 THEN :first ELSE b.low + 1 END)
FROM b
"""


def next_number(connection: Connection, series: Series, till: str) -> int:
    """The number of what is made next at a till; inside the transaction that makes it."""
    asked = {"series": series, "till": till, "first": FIRST[series]}
    return int(connection.execute(NEXT, asked).fetchone()[0])
