"""A whole house out into a folder, read back with the standard library alone; and what cannot be written."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

from abrazo.cli import files, main


def test_a_whole_house_in_a_folder(db: Path, tmp_path: Path) -> None:
    folder = tmp_path / "out"
    answer = CliRunner().invoke(main.app, ["export", "--db", str(db), "--all", str(folder)])
    assert answer.exit_code == 0, answer.output
    names = {one.name for one in folder.iterdir()}
    assert names == {*(f"{kind}.csv" for kind in files.all_kinds()), "bookings.ics", "journal.txt"}
    for one in folder.glob("*.csv"):
        with one.open(encoding="utf-8", newline="") as file:
            head, *rows = csv.reader(file)
        assert head and all(len(row) == len(head) for row in rows), one.name
    assert (folder / "bookings.ics").read_text("utf-8").startswith("BEGIN:VCALENDAR")
    again = CliRunner().invoke(main.app, ["export", "--db", str(db), "--all", str(folder)])
    assert (again.exit_code, "is there already" in again.output) == (2, True)


@pytest.mark.parametrize("words", [["secrets"], ["items", "--format", "jsonl"], ["tickets", "--format", "xlsx"],
                                   ["tickets", "--from", "June"]])  # fmt: skip
def test_what_there_is_not_is_named(db: Path, words: list[str]) -> None:
    answer = CliRunner().invoke(main.app, ["export", *words, "--db", str(db)])
    assert answer.exit_code == 2


def test_one_table_to_standard_output(db: Path) -> None:
    answer = CliRunner().invoke(main.app, ["export", "drawer", "--db", str(db), "--format", "jsonl"])
    rows = [json.loads(line) for line in answer.output.splitlines()]
    assert answer.exit_code == 0 and {row["what"] for row in rows} == {"float"}
