"""Items and the rest as files: out, in again unchanged, looked at first, all or nothing; formula cells; what is none."""

from __future__ import annotations

import csv
import io

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.setup.goods import GROUPS, ITEMS
from abrazo.desk.setup.house_settings import THINGS
from abrazo.desk.setup.thing_files import look_at, read_in, written
from abrazo.desk.setup.things import everything, latest_changes, undo
from abrazo.formats.table_file import read_table, written_csv, written_xlsx
from abrazo.store import catalogue
from tests.desk.conftest import Desk
from tests.refusals import refuses


@pytest.mark.parametrize("write", [lambda rows: written_csv(rows).encode(), written_xlsx], ids=["csv", "xlsx"])
def test_what_is_written_out_reads_in_unchanged(both: Desk, write: object) -> None:
    assert callable(write)
    for thing in THINGS.values():
        rows = written(both.house, thing)
        reading = look_at(both.house, thing, write(rows))
        assert (reading.new, reading.changed, reading.faults) == ([], [], []), thing.id
        assert reading.unchanged == len(rows) - 1
    assert latest_changes(both.house) == []


def test_new_changed_and_unchanged_are_told_apart_and_done_once(both: Desk) -> None:
    desk, rows = both, written(both.house, ITEMS)
    names = rows[0]
    price, name, code = (names.index(one) for one in ("price", "name", "code"))
    rows[1][price] = "99.99"
    new = ["", *([""] * (len(names) - 1))]
    for id, cell in (("name", "=Brush"), ("price", "7"), ("category", rows[1][names.index("category")]),
                     ("report_group", "goods"), ("code", "BRUSH-1")):  # fmt: skip
        new[names.index(id)] = cell
    data = written_csv([*rows, new]).encode()
    assert b"'=Brush" in data
    reading = look_at(desk.house, ITEMS, data)
    assert ([values["name"] for _, values in reading.new], len(reading.changed)) == (["=Brush"], 1)
    key = desk.key()
    for _ in range(2):
        read_in(desk.house, desk.boss, ITEMS, data, key)
    found = catalogue.by_code(desk.house.connection, "BRUSH-1")
    assert found is not None and (found.name, found.price) == ("=Brush", 700)
    assert everything(desk.house, ITEMS)[rows[1][0]]["price"] == 9999
    assert len(latest_changes(desk.house)) == 2
    for one in latest_changes(desk.house):
        undo(desk.house, desk.boss, THINGS, one.id)
    by_code = [{"code": "BRUSH-1", "name": "Brush, long"}]  # of a retired one: its barcode is its own still
    out = io.StringIO()
    csv.DictWriter(out, ["code", "name"], delimiter=";", lineterminator="\n").writerows(
        [{"code": "code", "name": "name"}, *by_code]
    )
    assert [ref for ref, _ in look_at(desk.house, ITEMS, out.getvalue().encode("utf-8-sig")).changed] == [found.id]
    assert name and code


def test_a_code_that_a_spreadsheet_rounded_is_no_code(desk: Desk) -> None:
    with refuses("Row 3: code is 4.00638E\\+12: the spreadsheet rounded it"):
        look_at(desk.house, ITEMS, b"name;price;code\nA;1;4006381333931\nB;2;4.00638E+12\n")


def test_each_wrong_row_is_named_and_nothing_is_done(desk: Desk) -> None:
    data = (
        b"name;price;category;report_group;code\nA;x;shop;goods;\nB;1,50;nowhere;goods;\nC;2;shop;goods;4006381333932\n"
    )
    data += b"D;2;shop;goods;DD\nE;2;shop;goods;DD\nF;2;shop;goods;\nF;3;shop;goods;\n"
    reading = look_at(desk.house, ITEMS, data)
    assert [(one.number, one.column, one.why.code) for one in reading.faults] == [
        (2, "price", Code.NOT_AMOUNT),
        (3, "category", Code.FIELD_CHOICE),
        (4, "code", Code.CODE_DIGIT),
        (6, "code", Code.CODE_TAKEN),
        (8, "id", Code.ROW_TWICE),
    ]
    with refuses("5 rows are wrong; nothing was changed"):
        read_in(desk.house, desk.boss, ITEMS, data, desk.key())
    assert latest_changes(desk.house) == []
    with refuses("A supervisor changes what the house has set up"):
        read_in(desk.house, desk.tamsin, ITEMS, b"name,price,category,report_group\nG,1,shop,goods", desk.key())


@pytest.mark.parametrize(
    "data", [b"", b"\x89PNG\r\n\x1a\n" + b"\x00" * 40, b"PK\x03\x04 no sheet", b"%PDF-1.7", b"\x00\x01" * 400]
)
def test_what_is_no_table_says_so(data: bytes) -> None:
    with pytest.raises(Refused) as refusal:
        read_table(data)
    assert refusal.value.where == "file"


def test_columns_of_another_table_are_said(desk: Desk) -> None:
    with refuses("There are: id, name, price"):
        look_at(desk.house, ITEMS, b"colour,size\nred,M\n")
    reading = look_at(desk.house, GROUPS, b"name,least,most,choices,colour\nCut,0,1,thin; thick=0.80,red\n")
    assert reading.unknown == ("colour",)
    assert reading.new[0][1]["choices"] == [["thin", "0"], ["thick", "80"]]
