"""A house that an earlier version made opens with this one: what is new is filled in from what there is."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from abrazo.desk.context import Devices
from abrazo.desk.setup.founding import NotAHouse, close_house, open_house
from abrazo.store.migrate import FileState, examine, kept_before, newest
from tests.stories.house import demo_template

ADDED = (
    ("settings", "language"),
    ("staff", "takes_bookings"),
    ("staff", "takes_jobs"),
    *(("category", name) for name in ("first_for", "tasks")),
)  # by the second migration
LATER = (
    ("person", "file_import"),
    ("sealed_report", "owed_kept"),
    ("settings", "idle_minutes"),
    *(("settings", "practice"), ("staff", "in_training"), ("category", "tills"), ("category", "roles")),
    ("settings", "tax_on_advances"),
    *(("card", name) for name in ("holder", "mandate")),
    *(("settings", name) for name in ("one_series", "numbers_by_till", "job_prefix", "hire_prefix", "aside_prefix")),
    ("item", "job_days"),
    ("settings", "does"),
    *(("job", "prefix"), ("till", "block")),
    *((table, "ended_at") for table in ("category", "item", "choice_group", "preset", "staff", "till")),
    ("settings", "early_hires_back"),
    ("settings", "pay_out_limit"),
    ("settings", "free_discount"),
    ("refund", "rounding"),
    ("refund", "for_sale"),
    ("adjustment", "free"),
    ("correction", "typed"),
    ("refund_part", "pieces"),
    ("day_till", "float_pieces"),
    ("ticket", "prices_kept_at"),
    ("card_request", "charge"),
    ("card_request", "charged"),
    *(("settings", name) for name in ("sign_cash", "prep_places")),
    ("settings", "memberships_back"),
    ("settings", "reminder_days"),
    *(("booking", name) for name in ("party", "reason", "course", "sold_on")),
    *(("job", name) for name in ("agreed", "agreed_at", "agreed_how", "cancelled_at", "reason", "reminded_at")),
    *(("task", name) for name in ("ended_at", "tax", "report_group", "surcharge")),
    *(("settings", name) for name in ("open_days", "job_days", "uncollected_days", "disposal_days")),
    *(("settings", name) for name in ("legal_name", "country", "tax_number", "invoice_prefix", "credit_prefix")),
    *(
        ("person", name)
        for name in ("legal_name", "address", "country", "tax_number", "erased_at", "merged_into", "language")
    ),
    *(("tax", name) for name in ("category", "exemption", "followed_by", "ended_at")),
    *(("settings", f"layaway_{name}") for name in ("percent", "days", "fee", "tax")),
    *(("person", name) for name in ("account_limit", "wants_reference")),
    *(("payment", name) for name in ("account", "purchase_reference")),
    ("membership_kind", "household"),
    ("outbox", "printer"),
    ("till", "begins"),
    *(("settings", name) for name in ("receipt_head", "tax_number_on_receipts")),
    *(("settings", f"mail_{name}") for name in ("server", "security", "user", "password", "from")),
    *(("settings", f"text_{name}") for name in ("address", "token")),
    *(("membership", name) for name in ("brought", "line", "net", "anchor")),
    *(("stored_value", name) for name in ("opening", "brought")),
    ("points", "brought"),
    ("line", "member"),
    ("card_request", "freed_at"),
    ("preset", "groups"),
    *(("price_list", name) for name in ("first_on", "last_on", "ended_at")),
    *((table, "ended_at") for table in ("membership_kind", "benefit")),
    *(("day_till", name) for name in ("taken_over", "difference", "left_amount")),
)


def as_the_first_version_left_it(database: Path) -> None:
    """Take out what came later."""
    raw = sqlite3.connect(database, isolation_level=None)
    for statement in ("VIEW known_person", "TRIGGER person_is_found_no_more", "INDEX person_file_import", "INDEX person_phone", "INDEX one_open_request_a_payer", "INDEX card_request_freed",
                      "INDEX household_name", "INDEX line_booking", "INDEX booking_course", "INDEX journal_booking", "INDEX journal_job", "TRIGGER payment_keeps_its_route", "INDEX membership_line", "INDEX payment_account", "INDEX item_position", "INDEX person_merged", "INDEX line_member", "INDEX walk_in_person",
                      "INDEX stored_value_brought", "INDEX membership_brought", "INDEX points_brought", "TRIGGER points_are_not_changed"):  # fmt: skip
        raw.execute(f"DROP {statement}")
    for table, column in ADDED + LATER:
        raw.execute(f"ALTER TABLE {table} DROP COLUMN {column}")
    for table in (
        *("series_saved", "series_use", "series", "series_item", "series_kind"),
        *(
            *("after_sale_task", "after_sale", "logo", "brought_in"),
            "debit_back",
            "set_up_change",
            "set_up_file",
            "set_up_plan",
            "printer",
            "own_value",
            "own_field",
            "advance_tax",
            "course",
            "statement_run_row",
            "statement_run",
            "person_merge_row",
            "person_merge",
        ),
        *("booking_terms", "work_hours", "job_work"),
        "invoice",
        *("layaway_tax", "layaway"),
        *("write_off", "reminder", "account_member"),
        *("hire_told", "hire", "hire_unit", "hire_tariff", "hire_kind"),
        *("membership_item", "membership_pause"),
        "preset_words",
        "file_import",
        "owed_standing",
        "pool_share",
        "pool_division",
        "stock_move",
        "drawer_section",
        "figure",
        "sealed_report",
        "banked",
        "petty_category",
        "tip_paid",
        "role_right",
        "pin_try",
        "sign_in",
    ):
        raw.execute(f"DROP TABLE {table}")
    raw.execute(
        "CREATE UNIQUE INDEX one_open_request_a_payer ON card_request (payer)"
        " WHERE state IN ('asked', 'sent', 'unknown')"
    )
    raw.execute("CREATE TABLE preset_note (words TEXT PRIMARY KEY, position INTEGER NOT NULL) STRICT")
    raw.execute("INSERT INTO preset_note VALUES ('no onions', 0)")
    raw.execute("DELETE FROM tender WHERE id = 'bank account'")
    raw.execute(
        "CREATE TRIGGER points_are_not_changed BEFORE UPDATE ON points"
        " BEGIN SELECT RAISE(ABORT, 'points are append-only'); END"
    )
    raw.execute("DROP INDEX petty_cash_takes_back")
    raw.execute("ALTER TABLE petty_cash DROP COLUMN takes_back")
    for index in ("journal_day", "refund_part_ref", "refund_payment"):
        raw.execute(f"DROP INDEX {index}")
    guard = raw.execute("SELECT sql FROM sqlite_schema WHERE name = 'payment_keeps_its_figures'").fetchone()[0]
    raw.execute("DROP TRIGGER payment_keeps_its_figures")
    raw.execute("UPDATE payment SET route = 'another card machine slip 9, recorded' WHERE id = 1")
    raw.execute(guard)
    raw.execute("PRAGMA user_version = 1")
    raw.close()


def version_of(database: Path) -> int:
    raw = sqlite3.connect(database)
    (version,) = raw.execute("PRAGMA user_version").fetchone()
    raw.close()
    return int(version)


def test_a_house_of_the_first_version_opens_and_knows_who_does_what(tmp_path: Path) -> None:
    database = demo_template(tmp_path / "first") / "house.db"
    as_the_first_version_left_it(database)
    copy = kept_before(database, 1)
    copy.with_name(f"{copy.name}.part").mkdir()  # no copy can be made
    with pytest.raises(NotAHouse) as not_kept:
        open_house(database, Devices.beside(database))
    assert (not_kept.value.state, version_of(database), copy.exists()) == (FileState.NO_COPY, 1, False)
    copy.with_name(f"{copy.name}.part").rmdir()
    house = open_house(database, Devices.beside(database))
    assert (version_of(copy), examine(copy)) == (1, FileState.HOUSE)
    try:
        assert house.connection.execute("PRAGMA user_version").fetchone()[0] == newest()
        assert house.settings.language == "en"
        people = house.staff().values()
        assert {one.id for one in people if one.takes_bookings} == {"idris", "pilar", "noor"}
        assert {one.id for one in people if one.takes_jobs} == {"bastian"}
        route = house.connection.execute("SELECT route FROM payment WHERE id = 1").fetchone()[0]
        assert route == "another card machine slip 9"
        with pytest.raises(sqlite3.IntegrityError, match="payments keep their way"):
            house.connection.execute("UPDATE payment SET route = 'cash' WHERE id = 1")
        assert house.connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert house.connection.execute("PRAGMA foreign_key_check").fetchall() == []
    finally:
        close_house(house)
