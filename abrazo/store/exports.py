"""What goes out as tables by business days: payments, tips, drawer movements, corrections, stock; people, and what they
hold, as it stands.

Each statement names its columns as files have them; amounts are minor units, and are named.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from abrazo.store.db import Connection
from abrazo.store.stored_value import BALANCE


@dataclass(frozen=True, slots=True)
class Export:
    """A statement, and which of its columns are amounts in minor units."""

    sql: str
    amounts: tuple[str, ...] = ()


DAYS = "(SELECT value FROM json_each(:days))"
PAYMENTS = f"""
SELECT d.business_date AS day, t.number AS ticket, p.id AS payment, p.at, p.till, p.staff, p.tender, p.route, p.amount,
       p.tip, p.tendered, p.credit, p.machine, p.brand, p.last_four, p.reference, p.taken_back_at,
       b.business_date AS back_day
FROM payment p JOIN day d ON d.id = p.day JOIN ticket t ON t.id = p.ticket LEFT JOIN day b ON b.id = p.back_day
WHERE p.day IN {DAYS} OR p.back_day IN {DAYS} ORDER BY p.id
"""
TIPS = f"""
SELECT * FROM (
  SELECT d.business_date AS day, p.at, 'given' AS what, t.number AS ticket, t.staff AS person, t.tips_to AS "to",
         p.tip AS amount, p.tender, p.till, p.taken_back_at
  FROM payment p JOIN day d ON d.id = p.day JOIN ticket t ON t.id = p.ticket WHERE p.tip <> 0 AND p.day IN {DAYS}
  UNION ALL
  SELECT d.business_date, o.at, 'paid out', NULL, o.person, NULL, o.amount, NULL, o.till, NULL
  FROM tip_paid o JOIN day d ON d.id = o.day WHERE o.day IN {DAYS}
) ORDER BY at, what, ticket
"""
DRAWER = f"""
SELECT * FROM (
  SELECT d.business_date AS day, d.opened_at AS at, f.till, NULL AS staff, 'float' AS what, '' AS category, '' AS note,
         f.float_amount AS amount
  FROM day_till f JOIN day d ON d.id = f.day WHERE f.day IN {DAYS}
  UNION ALL
  SELECT d.business_date, c.at, c.till, c.staff, 'paid ' || c.direction, c.category, c.note,
         CASE c.direction WHEN 'in' THEN c.amount ELSE -c.amount END
  FROM petty_cash c JOIN day d ON d.id = c.day WHERE c.day IN {DAYS}
  UNION ALL
  SELECT d.business_date, b.at, b.till, b.staff, 'to the bank or the safe', '', '', -b.amount
  FROM banked b JOIN day d ON d.id = b.day WHERE b.day IN {DAYS}
  UNION ALL
  SELECT d.business_date, o.at, o.till, o.staff, 'tips paid out', o.person, '', -o.amount
  FROM tip_paid o JOIN day d ON d.id = o.day WHERE o.day IN {DAYS}
) ORDER BY at, till, what
"""
CORRECTIONS = f"""
SELECT * FROM (
  SELECT d.business_date AS day, r.at, 'refund' AS what, t.number AS ticket, r.payment, r.amount, r.tip, r.reason,
         r.route, r.state, r.till, r.staff, r.lender
  FROM refund r JOIN day d ON d.id = r.day JOIN ticket t ON t.id = r.ticket WHERE r.day IN {DAYS}
  UNION ALL
  SELECT d.business_date, c.at, c.kind, t.number, c.payment, NULL, NULL, c.reason, '',
         CASE WHEN c.done_at IS NULL THEN 'asked' ELSE 'done' END, c.till, c.staff, c.lender
  FROM correction c JOIN day d ON d.id = c.day JOIN ticket t ON t.id = c.ticket WHERE c.day IN {DAYS}
) ORDER BY at, what, ticket
"""
STOCK = """
SELECT * FROM (
  SELECT coalesce((SELECT business_date FROM day WHERE opened_at <= g.at ORDER BY id DESC LIMIT 1), date(g.at)) AS day,
         g.* FROM (
    SELECT m.at, 'moved' AS what, m.item, i.name, m.quantity, m.why, m.staff, m.till
    FROM stock_move m JOIN item i ON i.id = m.item
    UNION ALL
    SELECT c.at, 'counted', c.item, i.name, c.quantity, c.reason, c.staff, c.till
    FROM stock_count c JOIN item i ON i.id = c.item
  ) g
) WHERE day BETWEEN :first AND :last AND :days IS NOT NULL ORDER BY at, item
"""
BOOKINGS = """
SELECT b.starts_at, b.ends_at, b.name, b.person, i.name AS service, b.staff, b.price, b.state, b.note,
       t.number AS ticket, b.uid
FROM booking b JOIN item i ON i.id = b.service LEFT JOIN ticket t ON t.id = b.ticket
WHERE date(b.starts_at) BETWEEN :first AND :last AND :days IS NOT NULL ORDER BY b.starts_at, b.id
"""
PEOPLE = """
SELECT p.id, p.name, p.phone, p.email, p.birthday, coalesce(h.name, '') AS household,
       CASE p.company WHEN 1 THEN 'yes' ELSE '' END AS company, p.notes, p.language
FROM person p LEFT JOIN household h ON h.id = p.household
WHERE p.erased_at IS NULL AND p.merged_into IS NULL ORDER BY p.id
"""
FACTS = ("name", "phone", "email", "birthday", "household", "company", "notes", "language")
OWN = """
SELECT v.ref, f.name, v.value FROM own_value v JOIN own_field f ON f.id = v.field
WHERE f.about = 'person' AND f.ended_at IS NULL
"""
MEMBERSHIPS = """
SELECT p.name AS person, p.phone, k.name AS membership, m.since, m.until, m.ended_at
FROM membership m JOIN person p ON p.id = m.person JOIN membership_kind k ON k.id = m.kind ORDER BY m.id
"""
SERIES = """
SELECT person, phone, item, series, uses, gone, uses - gone AS "left", sold_on, until, net - had AS worth FROM (
  SELECT s.id, p.name AS person, p.phone, s.item, i.name AS series, s.uses, s.net, s.sold_on, s.until,
         s.had_before + count(u.id) AS gone, coalesce(sum(u.worth), 0) AS had
  FROM series s JOIN person p ON p.id = s.person JOIN item i ON i.id = s.item
                LEFT JOIN series_use u ON u.series = s.id AND u.freed_at IS NULL
  WHERE s.net IS NOT NULL GROUP BY s.id
) ORDER BY id
"""
STORED = f"""
SELECT s.kind, substr(s.code, -4) AS ending, p.name AS person, p.phone, s.made_at, s.good_until,
       ({BALANCE.replace(":one", "s.id")}) AS balance
FROM stored_value s LEFT JOIN person p ON p.id = s.person ORDER BY s.id
"""
POINTS = """
SELECT p.name AS person, p.phone, sum(o.points) AS points FROM points o JOIN person p ON p.id = o.person
GROUP BY p.id HAVING sum(o.points) <> 0 ORDER BY p.id
"""
TABLES = {
    "memberships-held": Export(MEMBERSHIPS),
    "series-held": Export(SERIES, ("worth",)),
    "stored-value": Export(STORED, ("balance",)),
    "points": Export(POINTS),
    "payments": Export(PAYMENTS, ("amount", "tip", "tendered", "credit")),
    "tips": Export(TIPS, ("amount",)),
    "drawer": Export(DRAWER, ("amount",)),
    "corrections": Export(CORRECTIONS, ("amount", "tip")),
    "stock": Export(STOCK),
    "bookings": Export(BOOKINGS, ("price",)),
}


def columns(connection: Connection, kind: str) -> list[str]:
    """The columns of a kind that goes by business days."""
    given = {"days": "[]", "first": "", "last": ""}
    return [one[0] for one in connection.execute(TABLES[kind].sql, given).description]


def rows(
    connection: Connection, kind: str, days: Sequence[int], between: tuple[str, str]
) -> Iterator[dict[str, object]]:
    """The rows of a kind on some business days, which lie between two ISO dates; each by its columns."""
    given = {"days": json.dumps(list(days)), "first": between[0], "last": between[1]}
    for row in connection.execute(TABLES[kind].sql, given):
        yield dict(row)


def people(connection: Connection) -> Iterator[tuple[int, dict[str, str]]]:
    """Everybody who is known, with the house's own facts about them, by the columns of a people file."""
    own: dict[int, dict[str, str]] = {}
    for ref, name, value in connection.execute(OWN):
        own.setdefault(ref, {})[name] = value
    for row in connection.execute(PEOPLE):
        facts = {name: str(row[name] or "") for name in FACTS}
        yield row["id"], facts | own.get(row["id"], {})
