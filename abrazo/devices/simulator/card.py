"""The card machine stand-in, and the payment service stand-in, which differs only in how it knows cards.

Each keeps a memory of its own in an append-only file, apart from the application's database, as a real one would.
What a reference has come to is a function of what was asked and of the time since, so a restart of the application
loses nothing, and the machine goes on by itself while the application is down.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
import os
import re
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime
from fractions import Fraction
from pathlib import Path
from typing import Any

from abrazo.core.codes import is_bank_account, is_card_number
from abrazo.core.money import round_half_up
from abrazo.core.states import RequestKind, RequestState
from abrazo.devices.ports import (
    SENT_TO_MACHINE,
    SENT_TO_SERVICE,
    CardAnswer,
    Duplicate,
    Incomplete,
    KnownAccount,
    KnownCard,
    NoAnswer,
    NotKnown,
    Returned,
    Script,
    Unreachable,
)
from abrazo.devices.simulator.shared import SharedMemory

COMES_BACK = "comes back"  # a bank account's charge: approved, and returned unpaid by the bank a little later
OUTCOMES = (
    "approve",
    "decline",
    "cancel",
    "part",  # only half of it is approved
    "signature",  # approved, and the guest signs
    "silent, charged",
    "silent, not charged",
    "answer lost",  # charged, but not even the sending was answered
    "duplicate",  # says it knows the reference, and does nothing
    COMES_BACK,
)
CLOSED = "closed"  # a reference that was asked for before it had arrived: it never begins
REASONS = ("the bank declined the card", "not enough money on the card", "the card has expired")
CARDS = (("Pelagia", "4417"), ("Pelagia", "5120"), ("Northcard", "3158"), ("Northcard", "0926"), ("Tidewater", "7734"))
QUIET = (RequestKind.CAPTURE, RequestKind.RELEASE, RequestKind.TIP)  # no guest is needed for these
STEPS = (SENT_TO_MACHINE, "Card shown", "Tip chosen", "PIN keyed", "Asking the bank")
BATCH_COLUMNS = ("reference", "kind", "amount", "tip", "brand", "last_four", "at")
MACHINES, SERVICE = ("card machine 1", "card machine 2"), "payment service"
RETURNED = "not enough money on the account"
BACK_AFTER = 5.0  # seconds; at a bank it is days


@dataclass(frozen=True, slots=True)
class _Record:
    reference: str
    amount: int
    tip: int
    refund: bool
    outcome: str
    started: float
    pace: float
    kind: RequestKind = RequestKind.CHARGE
    of: str = ""


def batch_file(memory: Path) -> Path:
    """Where the batch file lies, beside a stand-in's memory."""
    return memory.with_suffix(".batch.csv")


class StandInMachine:
    """A card machine that does what it was told."""

    steps: tuple[str, ...] = STEPS
    quiet_steps: tuple[str, ...] = (STEPS[0], STEPS[-1])

    def __init__(
        self,
        name: str,
        memory: Path,
        told: Script | None = None,
        now: Callable[[], float] = time.time,
        shared: SharedMemory | None = None,
    ) -> None:
        self.name = name
        self._shared = shared or SharedMemory()
        if told is not None:
            self.tell(told)
        self._memory = memory
        self._now = now
        self._lock = threading.Lock()
        self._records: dict[str, _Record] = {}
        self._read_to = 0  # bytes of the memory that are known
        self._refresh()

    def _refresh(self) -> None:
        """Read what was kept since, also by another process of the house."""
        try:
            if self._memory.stat().st_size == self._read_to:
                return
        except FileNotFoundError:
            return
        known = self._read_to
        with self._memory.open("rb") as file:
            file.seek(known)
            new = file.read()
        whole = new[: new.rfind(b"\n") + 1]  # a line cut short by a power cut was never confirmed
        for line in whole.splitlines():
            entry = json.loads(line)
            record = _Record(**{**entry, "kind": RequestKind(entry["kind"])})
            self._records[record.reference] = record
        self._read_to = known + len(whole)

    @property
    def told(self) -> Script:
        """What it was told comes next."""
        return Script(**self._shared.get(self.name, {}))

    def tell(self, told: Script) -> None:
        """Say what comes next; what has begun already stays as it was."""
        self._shared.change(lambda values: values.__setitem__(self.name, asdict(told)))

    def start(
        self,
        reference: str,
        amount: int,
        *,
        kind: RequestKind = RequestKind.CHARGE,
        ask_tip: bool = False,
        of: str = "",
    ) -> None:
        """Begin what is asked. Raises Unreachable, NoAnswer or Duplicate as it was told to."""
        if self.told.line_down:
            raise Unreachable(f"{self.name} cannot be reached")
        with self._lock:
            self._refresh()
            known = self._records.get(reference)
            if known is not None:
                if (known.amount, known.kind, known.of) != (amount, kind, of):
                    raise Duplicate(f"{self.name} used the reference {reference} for something else")
                return
            if self.told.outcome == "duplicate":
                raise Duplicate(f"{self.name} says that it used the reference {reference} before")
            percent = (
                self.told.tip_percent if ask_tip and kind == RequestKind.CHARGE and self.told.outcome != "part" else 0
            )
            tip = round_half_up(Fraction(amount * percent, 100))
            outcome = self._outcome(of)
            self._keep(
                _Record(
                    reference, amount, tip, kind == RequestKind.REFUND, outcome, self._now(), self.told.pace, kind, of
                )
            )
        if self.told.outcome == "answer lost":
            raise NoAnswer(f"{self.name} does not answer")

    def _outcome(self, of: str) -> str:
        return self.told.outcome

    def look(self, reference: str) -> CardAnswer:
        """How far it has come by now."""
        record = self._find(reference)
        if record.outcome.startswith("silent") or record.outcome == "answer lost":
            raise NoAnswer(f"{self.name} does not answer")
        return self._answer(record)

    def inquire(self, reference: str) -> CardAnswer:
        """How it ended; a reference that it does not know is closed for good."""
        with self._lock:
            self._refresh()
            if not self.told.line_down and reference not in self._records:  # whoever asks for it will not send it again
                self._keep(_Record(reference, 0, 0, False, CLOSED, self._now(), 0))
        return self._answer(self._find(reference))

    def stop(self, reference: str) -> None:
        """Stop what is under way, unless it has ended."""
        with self._lock:
            record = self._find(reference)
            if self._answer(record).outcome is None:
                self._keep(replace(record, outcome="cancel", started=self._now() - len(STEPS) * record.pace))

    def _moved(self) -> list[tuple[_Record, CardAnswer, int]]:
        """Every record that moved money, with what it moved; refunds negative."""
        found = []
        self._refresh()
        for record in list(self._records.values()):
            answer = self._answer(record)
            if record.kind not in (RequestKind.HOLD, RequestKind.RELEASE) and answer.outcome == RequestState.APPROVED:
                moved = answer.amount + answer.tip
                found.append((record, answer, -moved if record.refund else moved))
        return found

    def charged(self) -> list[tuple[str, int]]:
        """What the bank would say: every approved reference and what it moved in minor units, refunds negative."""
        moved = [(record.reference, moved) for record, _, moved in self._moved()]
        return moved + [(one.reference, -one.amount) for one in self.returned()]

    def returned(self) -> list[Returned]:
        """What came back unpaid: only bank accounts' charges do."""
        return []

    def batch(self) -> str:
        """The batch file: CSV, one row for each movement, in the order in which they began.

        It is also laid down beside the memory, for a day on which only the file can be had.
        """
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(BATCH_COLUMNS)
        for record, answer, moved in self._moved():
            at = datetime.fromtimestamp(record.started, UTC).isoformat(timespec="seconds")
            card = (answer.brand, answer.last_four)
            writer.writerow([record.reference, record.kind, moved - answer.tip, answer.tip, *card, at])
        writer.writerows([one.reference, "returned", -one.amount, 0, "", "", ""] for one in self.returned())
        batch_file(self._memory).write_text(out.getvalue(), "utf-8")
        return out.getvalue()

    def remember(self, charged: Iterable[tuple[str, int, float]]) -> None:
        """Charges of the past, for a demo that has one: (reference, minor units, seconds since the epoch)."""
        records = [_Record(reference, amount, 0, False, "approve", at, 0) for reference, amount, at in charged]
        with self._lock, self._memory.open("a", encoding="utf-8") as file:
            file.writelines(json.dumps(asdict(record)) + "\n" for record in records)
        self._records.update({record.reference: record for record in records})

    def held(self) -> list[tuple[str, int]]:
        """Sums that stand reserved on cards: the reference of each hold and its minor units."""
        self._refresh()
        records = list(self._records.values())
        ended = {
            r.of
            for r in records
            if r.kind in (RequestKind.CAPTURE, RequestKind.RELEASE) and self._answer(r).outcome == RequestState.APPROVED
        }
        return [
            (record.reference, record.amount)
            for record in records
            if record.kind == RequestKind.HOLD
            and record.reference not in ended
            and self._answer(record).outcome == RequestState.APPROVED
        ]

    def _find(self, reference: str) -> _Record:
        if self.told.line_down:
            raise NoAnswer(f"{self.name} does not answer")
        self._refresh()
        if reference not in self._records or self._records[reference].outcome == CLOSED:
            raise NotKnown(f"{self.name} has no record of {reference}")
        return self._records[reference]

    def _keep(self, record: _Record) -> None:
        _append(self._memory, asdict(record))
        self._records[record.reference] = record

    def _answer(self, record: _Record) -> CardAnswer:
        steps = self.quiet_steps if record.kind in QUIET else self.steps
        done = int((self._now() - record.started) / record.pace) if record.pace else len(steps)
        if done < len(steps):
            return CardAnswer(steps[max(done, 0)])
        last = steps[-1]
        if record.outcome in ("decline", "silent, not charged"):
            return CardAnswer(last, RequestState.DECLINED, REASONS[0])
        if record.outcome.startswith("decline: "):
            return CardAnswer(last, RequestState.DECLINED, record.outcome.removeprefix("decline: "))
        if record.outcome in ("cancel", CLOSED):
            return CardAnswer(last, RequestState.CANCELLED, "stopped before the card was charged")
        card = self._card(record)
        part = record.outcome == "part" and record.kind == RequestKind.CHARGE and record.amount > 1
        amount = record.amount // 2 if part else record.amount
        signed = record.outcome == "signature" and record.kind == RequestKind.CHARGE
        shown = (card.brand, card.last_four, card.expiry, card.token)
        return CardAnswer(last, RequestState.APPROVED, "", record.tip, *shown, amount, signed)

    def _card(self, record: _Record) -> KnownCard:
        """The card that a guest showed: always the same for one reference, invented."""
        of = self._records.get(record.of)
        if of is not None and of is not record:
            return self._card(of)
        digest = hashlib.sha256((record.of or record.reference).encode()).digest()
        brand, last_four = CARDS[digest[0] % len(CARDS)]
        return KnownCard(_token(digest), brand, last_four, f"{digest[1] % 12 + 1:02d}/{28 + digest[2] % 4}")


class StandInService(StandInMachine):
    """A payment service: it charges cards by tokens that it gave for their numbers, and keeps no number."""

    steps = (SENT_TO_SERVICE, "Asking the bank")
    quiet_steps = steps

    def __init__(
        self,
        memory: Path,
        cards: Path,
        now: Callable[[], float] = time.time,
        shared: SharedMemory | None = None,
    ) -> None:
        super().__init__(SERVICE, memory, None, now, shared)
        self._cards_file = cards
        self._cards, self._accounts = dict[str, KnownCard](), dict[str, KnownAccount]()
        for entry in _lines(cards):
            if "mandate" in entry:
                self._accounts[entry["token"]] = KnownAccount(**entry)
            else:
                self._cards[entry["token"]] = KnownCard(**entry)

    def keep_card(self, number: str, expiry: str, code: str) -> KnownCard:
        """A token for a card. Raises Incomplete beside the field that lacks something."""
        if self.told.line_down:
            raise Unreachable("the payment service cannot be reached")
        plain = re.sub(r"[ -]", "", number)
        if not is_card_number(plain):
            raise Incomplete("number", "The service says that this is not a card's number.")
        if not re.fullmatch(r"(0[1-9]|1[0-2])/[0-9]{2}", expiry):
            raise Incomplete("expiry", "The service needs the expiry as month and year: MM/YY.")
        if not re.fullmatch(r"[0-9]{3,4}", code):
            raise Incomplete("code", "The service needs the card's security code, three or four digits.")
        brand = {"4": "Pelagia", "5": "Northcard"}.get(plain[0], "Tidewater")
        card = KnownCard(_token(os.urandom(12)), brand, plain[-4:], expiry)
        with self._lock:
            _append(self._cards_file, asdict(card))
            self._cards[card.token] = card
        return card

    def keep_account(self, holder: str, number: str) -> KnownAccount:
        """A token and a mandate for a bank account. Raises Incomplete beside the field that lacks something."""
        if self.told.line_down:
            raise Unreachable("the payment service cannot be reached")
        if not holder.strip():
            raise Incomplete("holder", "The service needs the name of whose account it is.")
        if not is_bank_account(number):
            raise Incomplete("account_number", "The service says that this is not an account's number.")
        token = _token(os.urandom(12))
        last_four = re.sub(r"[^0-9A-Za-z]", "", number)[-4:]
        account = KnownAccount(token, holder.strip(), last_four, f"M-{token[1:11].upper()}")
        with self._lock:
            _append(self._cards_file, asdict(account))
            self._accounts[token] = account
        return account

    def returned(self) -> list[Returned]:
        """Charges of bank accounts that came back; raises NoAnswer while the line is down."""
        if self.told.line_down:
            raise NoAnswer(f"{self.name} does not answer")
        self._refresh()
        found = [record for record in list(self._records.values()) if record.outcome == COMES_BACK]
        return [
            Returned(f"{record.reference}-returned", record.reference, record.amount, RETURNED)
            for record in found
            if record.of in self._accounts and self._now() - record.started > BACK_AFTER
        ]

    def _outcome(self, of: str) -> str:
        if of in self._accounts or self._token_behind(of) in self._accounts:
            return self.told.outcome
        card = self._cards.get(of) or self._cards.get(self._token_behind(of))
        if card is None:
            return "decline: the service does not know this card"
        month, year = int(card.expiry[:2]), 2000 + int(card.expiry[3:])
        now = datetime.fromtimestamp(self._now())
        if (year, month) < (now.year, now.month):
            return f"decline: {REASONS[2]}"
        return self.told.outcome

    def _token_behind(self, of: str) -> str:
        """The card of an earlier reference: a refund or tip names the charge it belongs to."""
        record = self._records.get(of)
        return record.of if record else ""

    def _card(self, record: _Record) -> KnownCard:
        account = self._accounts.get(record.of) or self._accounts.get(self._token_behind(record.of))
        if account is not None:
            return KnownCard(account.token, "", account.last_four, "")
        known = self._cards.get(record.of) or self._cards.get(self._token_behind(record.of))
        return known or super()._card(record)


def _token(random: bytes) -> str:
    """A name for a card or account; the letter keeps it from ever being digits alone."""
    return f"t{random[:12].hex()}"


def _lines(file: Path) -> list[dict[str, Any]]:
    """The entries of an append-only file; a line cut short by a power cut was never confirmed."""
    if not file.exists():
        return []
    return [json.loads(line) for line in file.read_text("utf-8").splitlines(keepends=True) if line.endswith("\n")]


def _append(file: Path, entry: dict[str, object]) -> None:
    with file.open("a", encoding="utf-8") as out:
        out.write(json.dumps(entry) + "\n")
        out.flush()
        os.fsync(out.fileno())
