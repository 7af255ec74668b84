"""The card machine stand-in.

It keeps a memory of its own in an append-only file, apart from the application's database, as a real machine would.
What a reference has come to is a function of what was asked and of the time since, so a restart of the application
loses nothing, and the machine goes on by itself while the application is down.
"""

from __future__ import annotations

import hashlib
import json
import os
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import asdict, dataclass, replace
from fractions import Fraction
from pathlib import Path

from abrazo.core.money import round_half_up
from abrazo.devices.base import CardAnswer, NoAnswer, NotKnown, Unreachable

OUTCOMES = ("approve", "decline", "cancel", "silent, charged", "silent, not charged")
CARDS = (("Pelagia", "4417"), ("Pelagia", "5120"), ("Northcard", "3158"), ("Northcard", "0926"), ("Tidewater", "7734"))
QUIET = ("capture", "release")  # no guest is needed for these
STEPS = ("Sent to the machine", "Card shown", "Tip chosen", "PIN keyed", "Asking the bank")


@dataclass(frozen=True, slots=True)
class Told:
    """What the stand-in was told comes next."""

    outcome: str = "approve"
    tip_percent: int = 0
    line_down: bool = False
    pace: float = 1.0  # seconds a step


@dataclass(frozen=True, slots=True)
class _Record:
    reference: str
    amount: int
    tip: int
    refund: bool
    outcome: str
    started: float
    pace: float
    kind: str = "charge"
    of: str = ""

    @property
    def steps(self) -> tuple[str, ...]:
        return (STEPS[0], STEPS[-1]) if self.kind in QUIET else STEPS


class StandInMachine:
    """A card machine that does what it was told."""

    def __init__(self, name: str, memory: Path, told: Told | None = None, now: Callable[[], float] = time.time) -> None:
        self.name = name
        self.told = told or Told()
        self._memory = memory
        self._now = now
        self._lock = threading.Lock()
        self._records: dict[str, _Record] = {}
        if memory.exists():
            for line in memory.read_text("utf-8").splitlines(keepends=True):
                if line.endswith("\n"):  # a line cut short by a power cut was never confirmed
                    record = _Record(**json.loads(line))
                    self._records[record.reference] = record

    def tell(self, told: Told) -> None:
        """Say what comes next; what has begun already stays as it was."""
        self.told = told

    def start(self, reference: str, amount: int, *, kind: str = "charge", ask_tip: bool = False, of: str = "") -> None:
        if self.told.line_down:
            raise Unreachable(f"{self.name} cannot be reached")
        with self._lock:
            if reference in self._records:
                return
            percent = self.told.tip_percent if ask_tip and kind == "charge" else 0
            refund = kind == "refund"
            tip = round_half_up(Fraction(amount * percent, 100))
            self._keep(
                _Record(reference, amount, tip, refund, self.told.outcome, self._now(), self.told.pace, kind, of),
            )

    def look(self, reference: str) -> CardAnswer:
        record = self._find(reference)
        if record.outcome.startswith("silent"):
            raise NoAnswer(f"{self.name} does not answer")
        return self._answer(record)

    def inquire(self, reference: str) -> CardAnswer:
        return self._answer(self._find(reference))

    def stop(self, reference: str) -> None:
        with self._lock:
            record = self._find(reference)
            if self._answer(record).outcome is None:
                self._keep(replace(record, outcome="cancel", started=self._now() - len(STEPS) * record.pace))

    def charged(self) -> list[tuple[str, int]]:
        """What the bank would say: every approved reference and what it moved in minor units, refunds negative."""
        found = []
        for record in self._records.values():
            if record.kind in ("hold", "release"):
                continue
            answer = self._answer(record)
            if answer.outcome == "approved":
                moved = record.amount + answer.tip
                found.append((record.reference, -moved if record.refund else moved))
        return found

    def remember(self, charged: Iterable[tuple[str, int, float]]) -> None:
        """Charges of the past, for a demo that has one: (reference, minor units, seconds since the epoch)."""
        records = [_Record(reference, amount, 0, False, "approve", at, 0) for reference, amount, at in charged]
        with self._lock, self._memory.open("a", encoding="utf-8") as file:
            file.writelines(json.dumps(asdict(record)) + "\n" for record in records)
        self._records.update({record.reference: record for record in records})

    def held(self) -> list[tuple[str, int]]:
        """Sums that stand reserved on cards: the reference of each hold and its minor units."""
        ended = {r.of for r in self._records.values() if r.kind in QUIET and self._answer(r).outcome == "approved"}
        return [
            (record.reference, record.amount)
            for record in self._records.values()
            if record.kind == "hold" and record.reference not in ended and self._answer(record).outcome == "approved"
        ]

    def _find(self, reference: str) -> _Record:
        if self.told.line_down:
            raise NoAnswer(f"{self.name} does not answer")
        if reference not in self._records:
            raise NotKnown(f"{self.name} has no record of {reference}")
        return self._records[reference]

    def _keep(self, record: _Record) -> None:
        with self._memory.open("a", encoding="utf-8") as file:
            file.write(json.dumps(asdict(record)) + "\n")
            file.flush()
            os.fsync(file.fileno())
        self._records[record.reference] = record

    def _answer(self, record: _Record) -> CardAnswer:
        steps = record.steps
        done = int((self._now() - record.started) / record.pace) if record.pace else len(steps)
        if done < len(steps):
            return CardAnswer(steps[max(done, 0)])
        last = STEPS[-1]
        if record.outcome in ("decline", "silent, not charged"):
            return CardAnswer(last, "declined", "the bank declined the card")
        if record.outcome == "cancel":
            return CardAnswer(last, "cancelled", "stopped before the card was charged")
        digest = hashlib.sha256((record.of or record.reference).encode()).digest()
        brand, last_four = CARDS[digest[0] % len(CARDS)]
        expiry, token = f"{digest[1] % 12 + 1:02d}/{28 + digest[2] % 4}", digest.hex()[:16]
        return CardAnswer(last, "approved", "", record.tip, brand, last_four, expiry, token)
