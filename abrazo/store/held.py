"""Everything that is held of a person, as rows by table; and its erasure, which leaves figures and the chain."""

from __future__ import annotations

import json
from collections.abc import Mapping

from abrazo.store.db import Connection

TICKETS = "SELECT id FROM ticket WHERE person = :person"
JOBS = "SELECT id FROM job WHERE person = :person"
BOOKINGS = "SELECT id FROM booking WHERE person = :person"
ENTRIES = f"""
SELECT number FROM journal WHERE ticket IN ({TICKETS})
UNION SELECT number FROM journal WHERE facts ->> '$.customer' = :person
UNION SELECT number FROM journal WHERE facts ->> '$.job' IN ({JOBS})
UNION SELECT number FROM journal WHERE facts ->> '$.booking' IN ({BOOKINGS})
"""

HELD: Mapping[str, str] = {
    "person": "SELECT id, name, phone, email, birthday, company, account, notes, since, legal_name, address, country, "
    "tax_number, language, receipt_by FROM person WHERE id = :person",
    "merged": "SELECT name, phone, email, birthday, notes FROM person WHERE merged_into = :person ORDER BY id",
    "household": "SELECT name FROM household WHERE id = (SELECT household FROM person WHERE id = :person)",
    "tickets": "SELECT number, opened_at, closed_at, name, source FROM ticket WHERE person = :person ORDER BY id",
    "lines": "SELECT t.number AS ticket, l.label, l.quantity, l.unit_price, l.note, l.removed_at FROM line l "
    "JOIN ticket t ON t.id = l.ticket WHERE t.person = :person OR l.member = :person ORDER BY l.id",
    "payments": "SELECT t.number AS ticket, p.at, p.tender, p.route, p.amount, p.tip, p.brand, p.last_four, "
    "p.purchase_reference FROM payment p JOIN ticket t ON t.id = p.ticket "
    "WHERE t.person = :person OR p.account = :person ORDER BY p.id",
    "bookings": "SELECT service, staff, starts_at, ends_at, price, note, state, party, reason FROM booking "
    "WHERE person = :person ORDER BY id",
    "jobs": "SELECT number, thing, note, due_at, state, dropped_at, reason FROM job WHERE person = :person ORDER BY id",
    "hires": "SELECT number, unit, starts_at, due_at, returned_at, note FROM hire WHERE person = :person ORDER BY id",
    "series": "SELECT item, uses, sold_on, until FROM series WHERE person = :person ORDER BY id",
    "memberships": "SELECT kind, since, until FROM membership WHERE person = :person ORDER BY id",
    "cards": "SELECT brand, last_four, expiry, holder, mandate, added_at, ended_at FROM card "
    "WHERE person = :person ORDER BY id",
    "stored_value": "SELECT kind, code, made_at FROM stored_value WHERE person = :person ORDER BY id",
    "points": "SELECT t.number AS ticket, o.at, o.points FROM points o LEFT JOIN ticket t ON t.id = o.ticket "
    "WHERE o.person = :person ORDER BY o.id",
    "walk_ins": "SELECT name, phone, wants, at FROM walk_in WHERE person = :person ORDER BY id",
    "invoices": "SELECT at, document FROM invoice WHERE buyer = :person ORDER BY id",
    "account_members": "SELECT company, person, limit_amount FROM account_member "
    "WHERE person = :person OR company = :person ORDER BY id",
    "facts_of_the_house": "SELECT f.name, v.value FROM own_value v JOIN own_field f ON f.id = v.field "
    "WHERE f.about = 'person' AND v.ref = :person ORDER BY f.position, f.id",
    "messages": "SELECT at, device, title, recipient, sent_at FROM outbox WHERE recipient <> '' AND recipient IN "
    "(SELECT phone FROM person WHERE id = :person UNION SELECT email FROM person WHERE id = :person) ORDER BY id",
    "journal": f"SELECT j.at, j.kind, x.name, x.text FROM journal_text x JOIN journal j ON j.number = x.entry "
    f"WHERE x.entry IN ({ENTRIES}) AND x.text <> '' ORDER BY x.entry, x.name",
}

# In this order: what the later ones are found by goes last.
ERASE = (
    f"UPDATE journal_text SET text = '' WHERE entry IN ({ENTRIES})",
    "UPDATE outbox SET body = '', title = :erased, recipient = '' WHERE recipient <> '' AND recipient IN "
    "(SELECT phone FROM person WHERE id = :person UNION SELECT email FROM person WHERE id = :person)",
    # What was printed and names them: also slips and receipts of tickets of others.
    "UPDATE outbox SET body = '', title = :erased "
    "WHERE instr(lower(title || body), (SELECT lower(name) FROM person WHERE id = :person))",
    "UPDATE line SET label = replace(label, (SELECT name FROM person WHERE id = :person), :erased), note = '' "
    f"WHERE ticket IN ({TICKETS})",
    f"UPDATE guest SET name = NULL WHERE ticket IN ({TICKETS})",
    f"UPDATE phone_order SET phone = '', address = '', directions = '' WHERE ticket IN ({TICKETS})",
    f"UPDATE ticket SET name = :erased WHERE id IN ({TICKETS}) AND name IS NOT NULL",
    "UPDATE payment SET route = :erased WHERE tender = 'account' AND account = :person",
    "UPDATE booking SET name = :erased, note = '', reason = '' WHERE person = :person",
    "UPDATE job SET note = '', thing = :erased, agreed_how = '', reason = '' WHERE person = :person",
    "UPDATE hire SET note = '' WHERE person = :person",
    "UPDATE walk_in SET name = :erased, phone = NULL, wants = '' WHERE person = :person",
    "UPDATE card SET ended_at = coalesce(ended_at, :at), token = 'erased ' || id, last_four = '0000', expiry = '', "
    "holder = CASE holder WHEN '' THEN '' ELSE :erased END "
    "WHERE person = :person",
    "UPDATE account_member SET ended_at = :at WHERE ended_at IS NULL AND (person = :person OR company = :person)",
    "DELETE FROM own_value WHERE ref = :person AND field IN (SELECT id FROM own_field WHERE about = 'person')",
    "UPDATE person_merge SET facts = '{}', undone_at = coalesce(undone_at, :at) "
    "WHERE person = :person OR into_person = :person",
    "UPDATE person SET name = :erased, phone = NULL, email = NULL, birthday = NULL, household = NULL, notes = '', "
    "search_words = '', language = '', legal_name = '', address = '', tax_number = '', receipt_by = '', account = 0, "
    "erased_at = :at WHERE id = :person",
)
SAME = "SELECT id FROM person WHERE merged_into = ?"
IN_THE_WAY: Mapping[str, str] = {
    "ticket": "SELECT number FROM ticket WHERE person = :person AND state = 'open' LIMIT 1",
    "booking": "SELECT starts_at FROM booking WHERE person = :person AND state IN ('booked', 'here') "
    "AND ticket IS NULL AND starts_at > :wall LIMIT 1",
    "hire": "SELECT number FROM hire WHERE person = :person AND returned_at IS NULL AND line IN (SELECT l.id "
    "FROM line l JOIN ticket t ON t.id = l.ticket WHERE l.removed_at IS NULL AND t.state = 'closed') LIMIT 1",
    "membership": "SELECT until FROM membership WHERE person = :person AND ended_at IS NULL AND until >= :wall LIMIT 1",
}


def held_of(connection: Connection, person: int) -> dict[str, list[dict[str, object]]]:
    """Everything that is held of a person, by what it is; amounts are minor units."""
    found = {}
    for name, sql in HELD.items():
        rows = [dict(row) for row in connection.execute(sql, {"person": person})]
        for row in rows:
            if "document" in row:
                row["document"] = json.loads(str(row["document"]))
        found[name] = rows
    return found


def in_the_way(connection: Connection, person: int, wall: str) -> dict[str, str]:
    """What somebody still has with the house, by kind, with a number or moment of it; `wall` is now in house time."""
    found = {}
    for kind, sql in IN_THE_WAY.items():
        row = connection.execute(sql, {"person": person, "wall": wall}).fetchone()
        if row is not None:
            found[kind] = str(row[0])
    return found


def erase(connection: Connection, person: int, erased: str, at: str) -> None:
    """Everything personal goes, also of records merged into theirs; `erased` stands where a name must.

    Figures, entries and invoices stay.
    """
    same = [row["id"] for row in connection.execute(SAME, (person,))]
    for one in (*same, person):
        for sql in ERASE:
            connection.execute(sql, {"person": one, "erased": erased, "at": at})
