"""Whether a card machine's maker built what docs/formats/payment-devices.md says: asked of a device, step after step.

It charges small sums, and gives back what was approved. Somebody, or the device itself, has to present a card.
"""

from __future__ import annotations

import re
import time
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from abrazo.core.states import RequestKind, RequestState
from abrazo.devices.drivers.http_cards import HttpMachine
from abrazo.devices.ports import CardAnswer, DeviceFault, Duplicate, NotKnown

AMOUNT = 100  # minor units
LOOK_EVERY = 0.1  # seconds
COLUMNS = ("reference", "kind", "amount", "tip")  # that a batch begins with
ENDED = (RequestState.APPROVED, RequestState.DECLINED, RequestState.CANCELLED)


@dataclass(frozen=True, slots=True)
class Found:
    """One rule of the protocol: whether the device keeps it, and what it did when it does not."""

    rule: str
    fault: str = ""


def tells_number(token: str, last_four: str) -> bool:
    """Whether a token is a number, or holds what may be its card's: eight digits or more before the last four."""
    plain = re.sub("[ -]", "", token)
    return plain.isdigit() or re.search(f"[0-9]{{8}}{re.escape(last_four)}", plain) is not None


class _Broken(Exception):
    """A rule is not kept."""


class Conformance:
    """The rules, asked of one device; `patience` is how long somebody has to present a card, in seconds."""

    def __init__(self, machine: HttpMachine, patience: float) -> None:
        self._machine, self._patience = machine, patience
        self._run = uuid.uuid4().hex[:8]
        self._charge = f"check-{self._run}-charge"

    def run(self) -> Iterator[Found]:
        """Every rule, one after the other; a later one may rest on what an earlier one began."""
        for rule, ask in self._rules():
            try:
                ask()
                yield Found(rule)
            except _Broken as fault:
                yield Found(rule, str(fault))
            except DeviceFault as fault:
                yield Found(rule, f"{type(fault).__name__}: {fault}")

    def _rules(self) -> list[tuple[str, Callable[[], None]]]:
        return [
            ("a reference that it never heard of is 404", self._unknown),
            ("a reference that was asked for is closed: begun later it is 409", self._closed),
            ("a charge ends approved, declined or cancelled, with what was approved", self._charged),
            ("the same request again changes nothing", self._again),
            ("the same reference for another amount is 409", self._otherwise),
            ("its memory says the same as often as it is asked", self._remembers),
            ("no number of a card is told: brand, last four, expiry MM/YY, token", self._no_number),
            ("a refund of an approved charge is approved", self._refunded),
            ("a sum held is captured or released", self._held),
            ("what is stopped at once is cancelled, or it was approved before", self._stopped),
            ("its batch names every movement once, with its amount", self._batch),
        ]

    def _name(self, what: str) -> str:
        return f"check-{self._run}-{what}"

    def _expect(self, holds: bool, otherwise: str) -> None:
        if not holds:
            raise _Broken(otherwise)

    def _refused(self, fault: type[DeviceFault], ask: Callable[[], object], otherwise: str) -> None:
        try:
            ask()
        except fault:
            return
        raise _Broken(otherwise)

    def _ended(self, reference: str) -> CardAnswer:
        """How it ended. Broken when it did not in time."""
        until = time.monotonic() + self._patience
        while time.monotonic() < until:
            answer = self._machine.look(reference)
            if answer.outcome is not None:
                self._expect(answer.outcome in ENDED, f"{reference} ended {answer.outcome}")
                return answer
            time.sleep(LOOK_EVERY)
        raise _Broken(f"{reference} did not end within {self._patience:g} s")

    def _unknown(self) -> None:
        self._refused(NotKnown, lambda: self._machine.look(self._name("never")), "it answers for it")

    def _closed(self) -> None:
        reference = self._name("closed")
        self._refused(NotKnown, lambda: self._machine.inquire(reference), "it answers for it")
        self._refused(Duplicate, lambda: self._machine.start(reference, AMOUNT), "it begins it all the same")

    def _charged(self) -> None:
        self._machine.start(self._charge, AMOUNT)
        answer = self._ended(self._charge)
        self._expect(answer.outcome is RequestState.APPROVED, f"{answer.outcome}: {answer.reason}; approve it, please")
        self._expect(0 < answer.amount <= AMOUNT, f"approved {answer.amount} of {AMOUNT}")

    def _again(self) -> None:
        before = self._machine.inquire(self._charge)
        self._machine.start(self._charge, AMOUNT)
        self._expect(self._machine.inquire(self._charge) == before, "its outcome is another one")

    def _otherwise(self) -> None:
        self._refused(Duplicate, lambda: self._machine.start(self._charge, AMOUNT + 1), "it takes it")

    def _remembers(self) -> None:
        answers = {self._machine.inquire(self._charge) for _ in range(3)} | {self._machine.look(self._charge)}
        self._expect(len(answers) == 1, f"{len(answers)} different answers")

    def _no_number(self) -> None:
        answer = self._machine.inquire(self._charge)
        self._expect(re.fullmatch("[0-9]{4}", answer.last_four) is not None, f"last four: {answer.last_four!r}")
        self._expect(re.fullmatch("(0[1-9]|1[0-2])/[0-9]{2}", answer.expiry) is not None, f"expiry: {answer.expiry!r}")
        self._expect(bool(answer.token), "it gives no token")
        self._expect(not tells_number(answer.token, answer.last_four), "its token is a number, or holds the card's")

    def _refunded(self) -> None:
        amount = self._machine.inquire(self._charge).amount
        self._machine.start(self._name("back"), amount, kind=RequestKind.REFUND, of=self._charge)
        self._expect(self._ended(self._name("back")).outcome is RequestState.APPROVED, "it is not")

    def _held(self) -> None:
        for end, kind in (("capture", RequestKind.CAPTURE), ("release", RequestKind.RELEASE)):
            hold, ended = self._name(f"hold-{end}"), self._name(end)
            self._machine.start(hold, AMOUNT, kind=RequestKind.HOLD)
            self._expect(self._ended(hold).outcome is RequestState.APPROVED, f"the hold before {end} is not approved")
            self._machine.start(ended, AMOUNT, kind=kind, of=hold)
            self._expect(self._ended(ended).outcome is RequestState.APPROVED, f"the {end} is not approved")
        captured = self._name("capture")
        self._machine.start(self._name("capture-back"), AMOUNT, kind=RequestKind.REFUND, of=captured)
        self._ended(self._name("capture-back"))

    def _stopped(self) -> None:
        reference = self._name("stopped")
        self._machine.start(reference, AMOUNT)
        self._machine.stop(reference)
        answer = self._ended(reference)
        self._expect(answer == self._machine.inquire(reference), "its memory says otherwise")
        if answer.outcome is RequestState.APPROVED:
            self._machine.start(self._name("stopped-back"), answer.amount, kind=RequestKind.REFUND, of=reference)
            self._ended(self._name("stopped-back"))

    def _batch(self) -> None:
        head, *rows = [line.split(",") for line in self._machine.batch().splitlines()] or [[]]
        self._expect(tuple(head[: len(COLUMNS)]) == COLUMNS, f"its columns begin {', '.join(head[: len(COLUMNS)])}")
        mine = {row[0]: row for row in rows if row and row[0].startswith(f"check-{self._run}")}
        many = sum(bool(row) and row[0].startswith(f"check-{self._run}") for row in rows)
        self._expect(many == len(mine), "a reference stands there twice")
        for reference, sign in ((self._charge, 1), (self._name("back"), -1)):
            amount = self._machine.inquire(reference).amount
            found = mine.get(reference, ["", "", "nothing"])[2]
            self._expect(found == str(sign * amount), f"{reference}: {found} in place of {sign * amount}")
