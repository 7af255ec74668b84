"""Tables that go out: they agree with the books and the bills, read back with the standard library alone."""

from __future__ import annotations

import csv
import io
import json
from decimal import Decimal
from pathlib import Path

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import FileKind
from abrazo.desk.doors import file_imports
from abrazo.desk.output import tables
from abrazo.desk.output.views.report import report_of
from abrazo.desk.payments import gift_cards
from abrazo.desk.people import people
from abrazo.desk.stock import stock
from abrazo.desk.tickets import starting
from abrazo.desk.tickets.memberships import give_membership
from abrazo.formats.table_file import read_table
from tests.desk.conftest import Desk
from tests.desk.test_both_houses import pay, sale, somebody
from tests.desk.test_clock import DAY, a_night

Rows = list[dict[str, str]]


def read(desk: Desk, kind: str, between: tuple[str, str] = tables.EVER) -> Rows:
    data = tables.written(desk.house, desk.boss, kind, "csv", between)
    rows = list(csv.DictReader(io.StringIO(data.decode())))
    lines = tables.written(desk.house, desk.boss, kind, "jsonl", between).decode().splitlines()
    assert len(lines) == len(rows) and all(set(json.loads(line)) == set(rows[0]) for line in lines)
    again = read_table(tables.written(desk.house, desk.boss, kind, "xlsx", between)) if rows else []
    assert len(again) == len(rows)
    return rows


def cents(rows: Rows, column: str) -> int:
    return int(sum(Decimal(row[column] or 0) for row in rows) * 100)


def test_a_day_of_sales_in_tables_agrees_with_its_bills(both: Desk) -> None:
    desk, item = both, both.of.goods
    first, second = (sale(desk, [item, item], somebody(desk) if n else None) for n in (0, 1))
    for number in (first, second):
        pay(desk, number)
    total = sum(desk.whole(number).bill.total for number in (first, second))
    found = read(desk, "tickets")
    assert cents(found, "total") == total and [row["state"] for row in found] == ["closed", "closed"]
    assert cents(read(desk, "payments"), "amount") == total
    lines = read(desk, "lines")
    assert [row["item"] for row in lines] == [item] * len(lines)
    assert cents(lines, "net") == sum(one.net for number in (first, second) for one in desk.whole(number).bill.lines)
    today = desk.clock.time.date().isoformat()
    assert report_of(desk.house, [desk.house.day().id]).difference == 0
    a_night(desk, again=False, later=DAY)
    assert read(desk, "payments", (desk.clock.time.date().isoformat(),) * 2) == []
    assert len(read(desk, "payments", (today, today))) == 2
    assert {row["what"] for row in read(desk, "drawer")} == {"float"}
    stock.count_goods(desk.house, desk.boss, item, "8", "recount", desk.key())
    desk.clock.on(1)
    assert [(row["what"], row["item"], row["quantity"]) for row in read(desk, "stock")] == [("counted", item, "8")]


def test_people_go_out_as_they_come_in(both: Desk) -> None:
    desk = both
    somebody(desk)
    people.add_person(
        desk.house, desk.tamsin, {"name": "=Ada, Roe", "household": "Roe", "notes": "two\nlines"}, desk.key()
    )
    out = tables.written(desk.house, desk.boss, "people", "csv")
    assert b"'=Ada" in out
    before = len(read(desk, "people"))
    file = file_imports.hand_in(desk.house, desk.boss, FileKind.PEOPLE, (out, "people.csv"), desk.key())
    file_imports.read_next(desk.house, lambda work, *given: work(*given))
    assert file_imports.standing(desk.house, file).refusal is None
    assert len(read(desk, "people")) >= before


def test_what_people_hold_is_what_is_owed_to_them(both: Desk) -> None:
    who = somebody(both)
    number = starting.open_counter(both.house, both.tamsin, both.key())
    gift_cards.sell(both.house, both.tamsin, both.on(number), "gift card", 5000, "")
    pay(both, number)
    spent = sale(both, [both.of.goods])
    code = both.house.connection.execute("SELECT code FROM stored_value ORDER BY id DESC").fetchone()[0]
    payer = both.whole(spent).payers[0].id
    gift_cards.spend(both.house, both.tamsin, both.on(spent), payer, gift_cards.Spending("gift card", 300, code))
    give_membership(both.house, both.boss, who, both.of.plan.memberships[0][0], "2027-01-31", both.key())
    series = both.of.plan.series[0]
    sold = sale(both, [series.item], who)
    pay(both, sold)
    held = read(both, "stored-value")
    assert [row["balance"] for row in held if row["ending"] == code[-4:]] == ["47.00"]
    assert code not in str(held)
    assert cents(held, "balance") == -both.balance("liabilities:gift-cards")
    assert [(row["until"], row["ended_at"]) for row in read(both, "memberships-held")] == [("2027-01-31", "")]
    assert [(row["item"], row["uses"], row["left"]) for row in read(both, "series-held")] == [
        (series.item, str(series.uses), str(series.uses))
    ]
    assert sum(int(row["points"]) for row in read(both, "points")) >= 0


def test_only_who_may_takes_tables_out(desk: Desk) -> None:
    with pytest.raises(Refused) as refusal:
        tables.written(desk.house, desk.tamsin, "people", "csv")
    assert refusal.value.code == Code.RIGHT_MOVE_FILES
    with pytest.raises(KeyError):
        tables.table(desk.house, "secrets")


def test_every_kind_is_there_also_of_a_house_in_which_nothing_happened(both: Desk, tmp_path: Path) -> None:
    for kind in tables.KINDS:
        found = tables.table(both.house, kind)
        assert found.columns and len(set(found.columns)) == len(found.columns)
        assert all(len(row) == len(found.columns) for row in found.rows)
