"""`abrazo reckon` as a command: exit codes, streams, one answer a line."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given

from abrazo.formats.ticket_json import answer
from abrazo.formats.ticket_schema import schemas, text
from tests.strategies import tickets

ROOT = Path(__file__).parent.parent.parent
TICKET, BILL, _ = (jsonschema.Draft202012Validator(schema) for schema in schemas().values())
GOOD = {"currency": "EUR", "tax_mode": "inclusive", "lines": [{"id": "l", "unit_price": "3.60"}]}
OUT = ["lines", "charges", "taxes", "gross", "discounts", "net", "charges_total", "tax_total", "total", "payers"]
OUT += ["staff_tips", "paid", "due"]


def reckon(text: str, *options: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "abrazo", "reckon", *options], input=text, capture_output=True, text=True, check=False
    )


def test_a_bill() -> None:
    done = reckon(json.dumps(GOOD))
    assert (done.returncode, done.stderr) == (0, "")
    bill = json.loads(done.stdout)
    assert list(bill) == OUT
    assert (bill["payers"][0]["id"], bill["total"], bill["discounts"]) == ("all", "3.60", "0.00")


def test_a_refusal() -> None:
    done = reckon(json.dumps(GOOD | {"currency": "XXQ"}))
    assert (done.returncode, done.stdout) == (2, "")
    assert json.loads(done.stderr)["error"]["where"] == "/currency"


def test_one_answer_a_line() -> None:
    done = reckon(json.dumps(GOOD) + "\n\n" + json.dumps(GOOD | {"tax_mode": "none"}) + "\n", "--jsonl")
    answers = [json.loads(line) for line in done.stdout.splitlines()]
    assert ["error" in answer for answer in answers] == [False, True, True]
    assert (done.returncode, done.stderr) == (2, "")
    assert reckon(json.dumps(GOOD), "--jsonl").returncode == 0


WORKED = sorted(path for path in (ROOT / "docs/formats/worked").glob("*.json") if not path.name.endswith(".bill.json"))


@pytest.mark.parametrize("path", WORKED, ids=lambda path: path.stem)
def test_worked_tickets(path: Path) -> None:
    """Each worked ticket gives the bill that lies beside it, both in the shape of their schemas."""
    good, bill = answer(path.read_bytes())
    assert good
    assert bill == json.loads(path.with_suffix("").with_suffix(".bill.json").read_text("utf-8"))
    written = schemas()
    jsonschema.validate(json.loads(path.read_text("utf-8")), written["ticket.schema.json"])
    jsonschema.validate(bill, written["bill.schema.json"])


@given(tickets())
def test_every_ticket_and_bill_has_its_shape(drawn: dict[str, Any]) -> None:
    good, bill = answer(json.dumps(drawn).encode())
    assert good
    TICKET.validate(drawn)
    BILL.validate(bill)
    assert not TICKET.is_valid(drawn | {"colour": "red"})
    assert not TICKET.is_valid(drawn | {"currency": 5})


def test_schemas_in_the_docs_are_the_models() -> None:
    for name, schema in schemas().items():
        assert (ROOT / "docs/formats" / name).read_text("utf-8") == text(schema)
