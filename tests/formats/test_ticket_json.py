"""`abrazo reckon` as a command: exit codes, streams, one answer a line."""

from __future__ import annotations

import json
import subprocess
import sys

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
