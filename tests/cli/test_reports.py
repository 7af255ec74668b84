"""Commands about the books, on the demo's house: reports in every format, what `check` finds, copies."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import re
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from decimal import Decimal
from pathlib import Path
from typing import Any, NamedTuple

import jsonschema
import openpyxl
import pypdf
import pytest
from typer.testing import CliRunner

from abrazo.cli import main
from abrazo.desk.context import Actor, Devices
from abrazo.desk.output.account_list import account_list
from abrazo.desk.output.statements import paper_of
from abrazo.desk.payments.statements import read_range, statement_of
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.formats.report_schema import REPORT
from abrazo.formats.statement import statement_csv
from tests.stories.house import demo_template

ROOT = Path(__file__).parent.parent.parent
SATURDAY = ("--day", "2026-06-13")
FILES = ("tickets.csv", "journal.csv", "changes.csv", "heads.csv", "set-up.csv")  # of the auditor's folder
WEEK = ("--from", "2026-06-07", "--to", "2026-06-13")


@pytest.fixture
def db(tmp_path: Path) -> Path:
    """The demo's house on its Saturday afternoon, after ninety days."""
    return demo_template(tmp_path / "played") / "house.db"


class Done(NamedTuple):
    """How a command ended, and what it wrote."""

    returncode: int
    stdout: bytes
    stderr: bytes


def abrazo(command: str, db: Path, *words: str) -> Done:
    """A command as `abrazo` runs it, in this process: a start of its own takes longer than most of them."""
    answer = CliRunner().invoke(main.app, [command, *words, "--db", str(db)])
    return Done(answer.exit_code, answer.stdout_bytes, answer.stderr_bytes)


def as_json(db: Path, *words: str) -> dict[str, Any]:
    done = abrazo("report", db, *words, "--format", "json")
    assert done.returncode == 0, done.stderr
    found: dict[str, Any] = json.loads(done.stdout)
    jsonschema.validate(found, REPORT)
    return found


def amounts(found: list[dict[str, Any]], name: str = "amount") -> Decimal:
    return sum((Decimal(one[name]) for one in found), Decimal(0))


@pytest.mark.parametrize("days", [SATURDAY, WEEK], ids=["a day", "a week"])
def test_the_report_holds_and_tills_add_up_to_the_house(db: Path, days: tuple[str, ...]) -> None:
    """sales + charges + stored value sold + deposits + accounts + tips + rounding = tenders + open tickets' move."""
    found = as_json(db, *days)
    brought = amounts(found["sales"]) + amounts(found["charges"]) + amounts(found["tips"]) + Decimal(found["rounding"])
    brought += Decimal(found["stored_value"]["sold"]) + Decimal(found["deposits"]["taken"])
    brought += Decimal(found["accounts"]["received"])
    moved = Decimal(found["open_tickets"]["after"]) - Decimal(found["open_tickets"]["before"])
    assert brought == amounts(found["tenders"]) + moved and brought > 600
    assert amounts(found["sales"], "percent") == 100
    tills = [as_json(db, *days, "--till", till) for till in found["tills"]]
    for part in ("sales", "tenders", "tips", "charges", "hours", "people"):
        assert sum((amounts(one[part]) for one in tills), Decimal(0)) == amounts(found[part])
    assert amounts(found["hours"]) >= amounts(found["sales"])
    assert found["sealed"] is False


def test_every_format_says_the_same(db: Path) -> None:
    found = as_json(db, *SATURDAY)
    rows = list(csv.reader(io.StringIO(abrazo("report", db, *SATURDAY, "--format", "csv").stdout.decode())))
    sold = [Decimal(row[4]) for row in rows if row[0] == "sale"]
    assert sum(sold) == amounts(found["sales"]) and len(sold) == len(found["sales"])
    book = openpyxl.load_workbook(io.BytesIO(abrazo("report", db, *SATURDAY, "--format", "xlsx").stdout))
    cells = [row for row in book["report"].iter_rows(values_only=True) if row[0] == "sale"]
    assert sum(Decimal(str(row[4])) for row in cells) == sum(sold)
    text = abrazo("report", db, *SATURDAY).stdout.decode()
    pdf = pypdf.PdfReader(io.BytesIO(abrazo("report", db, *SATURDAY, "--format", "pdf").stdout))
    many = re.search(r"([0-9]+) tickets", text)
    assert many and int(many[1]) > 26 and many[0] in pdf.pages[0].extract_text()


def test_a_report_of_nothing_says_so(db: Path) -> None:
    for words, said in (
        (("--day", "2031-01-01"), "no business day"),
        ((*SATURDAY, "--till", "attic"), "no till attic"),
        (("--day", "yesterday"), "is not a date"),
        ((), "--from and --to"),
    ):
        done = abrazo("report", db, *words)
        assert done.returncode == 2 and said in " ".join(done.stderr.decode().split()), words


TAMPERED: dict[str, tuple[str, str]] = {
    "a changed amount": ("UPDATE posting SET amount = amount + 1 WHERE rowid = 40", "balance "),
    "a changed fact": ("""UPDATE journal SET facts = '{"amount":1}' WHERE number = 41""", "hash 41"),
    "a missing entry": ("DELETE FROM journal WHERE number = 55", "gap 56"),
    "a posting of its own": ("INSERT INTO posting VALUES (40, 'assets:cash:attic', 5)", "balance 40"),
    "another figure": (
        "UPDATE figure SET amount = amount + 5 WHERE kind = 'sale' AND entry < 100",
        "sealed 2026-03-15",
    ),
    "another sealed report": (
        "UPDATE sealed_report SET report = replace(report, '\"open_before\":0', '\"open_before\":7') WHERE day = 3",
        "sealed 2026-03-17",
    ),
    "a gift card from nowhere": (
        "UPDATE line SET unit_price = 9900 WHERE id = (SELECT max(id) FROM line WHERE role = 'gift card')",
        "stored value gift card",
    ),
    "a count from nowhere": (
        "INSERT INTO stock_count SELECT NULL, item, at, '77', 'recount', staff, till FROM stock_count LIMIT 1",
        "stock ",
    ),
}


def tamper(db: Path, change: Callable[[sqlite3.Connection], object]) -> None:
    raw = sqlite3.connect(db)
    for (guard,) in raw.execute("SELECT name FROM sqlite_schema WHERE type = 'trigger'").fetchall():
        if "_is_" in guard or "keeps" in guard:
            raw.execute(f"DROP TRIGGER {guard}")
    change(raw)
    raw.commit()
    raw.close()


@pytest.mark.parametrize("what", TAMPERED)
def test_check_finds_what_was_tampered_with(db: Path, what: str) -> None:
    sql, said = TAMPERED[what]
    tamper(db, lambda raw: raw.execute(sql))
    done = abrazo("check", db)
    assert done.returncode == 1 and said in done.stdout.decode(), done.stdout.decode()


def test_check_says_the_same_for_machines(db: Path) -> None:
    line = [sys.executable, "-m", "abrazo", "check", "--db", str(db)]  # in a process of its own, once
    sound = subprocess.run(line, capture_output=True, timeout=120)
    assert (sound.returncode, sound.stdout) == (0, b"The books are sound.\n")
    tamper(db, lambda raw: raw.execute(TAMPERED["a changed amount"][0]))
    told = abrazo("check", db).stdout.decode().splitlines()
    as_list = json.loads(abrazo("check", db, "--json").stdout)["faults"]
    assert len(as_list) == len(told) > 0


def test_check_finds_two_entries_that_changed_places_and_a_head_that_is_not_there(db: Path) -> None:
    raw = sqlite3.connect(db)
    head = raw.execute("SELECT hash FROM journal WHERE number = 50").fetchone()[0]
    first, second = (
        one[0] for one in raw.execute("SELECT facts FROM journal WHERE number IN (60, 61) ORDER BY number")
    )
    raw.close()
    assert abrazo("check", db, "--head", head).returncode == 0
    missing = abrazo("check", db, "--head", "f" * 64)
    assert missing.returncode == 1 and missing.stdout.startswith(b"head ")

    def swap(raw: sqlite3.Connection) -> None:
        raw.execute("UPDATE journal SET facts = ? WHERE number = 60", (second,))
        raw.execute("UPDATE journal SET facts = ? WHERE number = 61", (first,))

    tamper(db, swap)
    assert {"hash 60", "hash 61"} <= set(abrazo("check", db).stdout.decode().splitlines())


def test_a_copy_is_whole_and_takes_a_houses_place(db: Path, tmp_path: Path) -> None:
    copy, place = tmp_path / "copy.db", tmp_path / "there" / "house.db"
    assert abrazo("backup", db, str(copy)).returncode == 0
    again = abrazo("backup", db, str(copy))
    assert again.returncode == 2 and b"is there already" in again.stderr
    assert abrazo("restore", place, str(copy)).returncode == 0
    assert as_json(place, *SATURDAY) == as_json(db, *SATURDAY)
    over = abrazo("restore", place, str(copy))
    assert over.returncode == 0 and b"The house until now lies in" in over.stdout
    assert len(list(place.parent.glob("house-*/house.db"))) == 1
    itself = abrazo("restore", place, str(place))
    assert itself.returncode == 2 and b"the house itself" in itself.stderr
    harmed = tmp_path / "harmed.db"
    data = bytearray(copy.read_bytes())
    data[-400_000:-340_000] = b"\x17" * 60_000
    harmed.write_bytes(data)
    refused = abrazo("restore", place, str(harmed))
    assert refused.returncode == 2 and b"nothing was changed" in refused.stderr
    assert sorted(one.name for one in copy.parent.glob("copy.db*")) == ["copy.db"]  # a copy is only read
    (tmp_path / "notes.db").write_bytes(b"not a house at all, only some words")
    assert abrazo("restore", place, str(tmp_path / "notes.db")).returncode == 2
    assert abrazo("check", place).returncode == 0


def test_copies_are_kept_by_age(db: Path, tmp_path: Path) -> None:
    old, other = tmp_path / "house-2026-01-01T000000Z.db", tmp_path / "other-2026-01-01T000000Z.db"
    for file in (old, other):
        file.touch()
    assert abrazo("backup", db, str(tmp_path / "nowhere"), "--keep", "7").returncode == 2 and old.exists()
    done = abrazo("backup", db, str(tmp_path), "--keep", "7")
    assert done.returncode == 0 and b"house-2026-01-01T000000Z.db is older than 7 days" in done.stdout
    (copy,) = tmp_path.glob("house-*.db")
    assert other.exists() and abrazo("check", copy).returncode == 0


def test_a_statement_is_of_one_person_and_says_what_the_page_says(db: Path) -> None:
    house = open_house(db, Devices.beside(db))
    boss = Actor(house.staff()["odile"], house.tills()["landing"])
    owing = account_list(house, boss, *read_range(house, "", "")).rows[0].person
    told = paper_of(house, statement_of(house, owing.id, *read_range(house, "", "")))
    close_house(house)
    found = abrazo("statement", db, owing.name)
    assert found.returncode == 0 and found.stdout.decode() == statement_csv(told)
    assert json.loads(abrazo("statement", db, owing.phone or "", "--format", "json").stdout)["closing"] == [
        *told.closing
    ]
    assert abrazo("statement", db, owing.name, "--format", "pdf").stdout.startswith(b"%PDF")
    for who, said in (("nobody at all", b"Nobody is known"), ("a", b"Several are known")):
        refused = abrazo("statement", db, who)
        assert refused.returncode == 2 and said in refused.stderr and not refused.stdout


def test_the_auditors_folder_is_read_without_this_program(db: Path, tmp_path: Path) -> None:
    """Hashes are reckoned anew with the standard library alone, as docs/formats/auditor.md says; heads fit papers."""
    folder = tmp_path / "audit"
    done = abrazo("audit", db, str(folder), *WEEK)
    assert done.returncode == 0, done.stderr
    assert abrazo("audit", db, str(folder), *WEEK).returncode == 2, "never over what is there"
    entries = [json.loads(line) for line in (folder / "journal.jsonl").read_text("utf-8").splitlines()]
    before = entries[0]["previous"]
    for entry in entries:
        stated = entry.pop("hash")
        plain = json.dumps(entry, ensure_ascii=False, sort_keys=True, separators=(",", ":"))
        assert entry["previous"] == before
        before = hashlib.sha256(plain.encode()).hexdigest()
        assert before == stated
    by_number = {entry["number"]: entry for entry in entries}
    read = {name: list(csv.DictReader(io.StringIO((folder / name).read_text("utf-8")))) for name in FILES}
    assert [one["number"] for one in read["journal.csv"]] == [str(number) for number in by_number]
    changed = [(one["kind"], one["id"], one["field"], one["before"], one["after"]) for one in read["set-up.csv"]]
    assert ("booking-terms", "guided-creek-tour", "deposit", "0.00", "20.00") in changed
    told = {one["number"] for one in read["changes.csv"]} & {
        str(n) for n, e in by_number.items() if e["kind"] == "set-up changed"
    }
    assert len(told) == len({(one["at"], one["kind"], one["id"]) for one in read["set-up.csv"]}) > 3
    closed = [one for one in read["heads.csv"] if one["head"]]
    assert len(closed) == len(read["heads.csv"]) - 1 == 6
    for one in closed[:-1]:
        assert by_number[int(one["entries"]) + 1]["previous"] == one["head"]
    sold = sum(Decimal(one["total"]) for one in read["tickets.csv"] if one["state"] == "closed")
    assert sold > 1800
    receipts = {path.name.partition("-")[0] for path in (folder / "receipts").iterdir()}
    assert receipts == {one["number"] for one in read["tickets.csv"]}
    for day in read["heads.csv"]:
        (sealed,) = (folder / "reports").glob(f"{day['day']}-*.json")
        jsonschema.validate(json.loads(sealed.read_text("utf-8")), REPORT)
