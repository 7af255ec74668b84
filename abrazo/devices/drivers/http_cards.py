"""Drivers that reach card machines and a payment service over HTTP; the protocol is docs/formats/payment-devices.md.

Not reached at all is Unreachable: nothing was done. Anything that goes wrong after that is NoAnswer: it may have been.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from typing import Any

import httpx2

from abrazo.core.states import RequestKind, RequestState
from abrazo.devices.ports import (
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

PATIENCE = 2.0  # seconds for one answer on the wire
CONNECT = 0.5
KEPT = 2.0  # seconds that an idle connection is used again: less than servers keep theirs


class HttpMachine:
    """A card machine, or what answers like one, at an address."""

    def __init__(self, name: str, address: str, patience: float = PATIENCE) -> None:
        self.name = name
        base = f"{address.rstrip('/')}/{name.replace(' ', '-')}"
        timeout = httpx2.Timeout(patience, connect=CONNECT)
        limits = httpx2.Limits(keepalive_expiry=KEPT)
        encrypted = base.startswith("https:")  # else there is nothing to verify, and authorities take long to read
        self._client = httpx2.Client(base_url=base, timeout=timeout, limits=limits, trust_env=False, verify=encrypted)

    def close(self) -> None:
        """Let the connection go."""
        self._client.close()

    def _call(self, method: str, path: str, body: Mapping[str, object] | None = None) -> httpx2.Response:
        try:
            answer = self._client.request(method, path, json=body)
        except (httpx2.ConnectError, httpx2.ConnectTimeout) as fault:
            raise Unreachable(f"{self.name} cannot be reached") from fault
        except httpx2.HTTPError as fault:
            raise NoAnswer(f"{self.name} does not answer") from fault
        said = f"{self.name} answers {answer.status_code}"
        if answer.status_code == 404:
            raise NotKnown(said)
        if answer.status_code == 409:
            raise Duplicate(said)
        if answer.status_code == 422:
            raise Incomplete(answer.json()["where"], answer.json()["what"])
        if answer.status_code == 503:
            raise Unreachable(said)
        if answer.status_code >= 400:
            raise NoAnswer(said)
        return answer

    def start(
        self,
        reference: str,
        amount: int,
        *,
        kind: RequestKind = RequestKind.CHARGE,
        ask_tip: bool = False,
        of: str = "",
    ) -> None:
        """Ask the machine for something; see `CardMachine.start`."""
        asked = {"amount": amount, "kind": kind, "ask_tip": ask_tip, "of": of}
        self._call("PUT", f"/transactions/{reference}", asked)

    def look(self, reference: str) -> CardAnswer:
        """How far a request has come."""
        return self._read(f"/transactions/{reference}/steps")

    def inquire(self, reference: str) -> CardAnswer:
        """How a request ended; an unknown one is closed there."""
        return self._read(f"/transactions/{reference}")

    def _read(self, path: str) -> CardAnswer:
        try:
            said = self._call("GET", path).json()
            return CardAnswer(**said | {"outcome": said.get("outcome") and RequestState(said["outcome"])})
        except Unreachable as fault:  # what was begun may have ended: only asking again can tell
            raise NoAnswer(str(fault)) from fault
        except (AttributeError, TypeError, ValueError) as fault:
            raise NoAnswer(f"{self.name} answers in words that are not understood") from fault

    def stop(self, reference: str) -> None:
        """Ask for a request to be stopped."""
        self._call("DELETE", f"/transactions/{reference}")

    def batch(self) -> str:
        """What it moved today, as its batch file."""
        return self._call("GET", "/batch.csv").text

    # ---- what only a stand-in answers

    @property
    def told(self) -> Script:
        """What the stand-in was told comes next."""
        return Script(**self._call("GET", "/told").json())

    def tell(self, told: Script) -> None:
        """Tell the stand-in what comes next."""
        self._call("PUT", "/told", asdict(told))

    def remember(self, charged: Iterable[tuple[str, int, float]]) -> None:
        """Charges of a past that it never saw, for an invented house."""
        self._call("PUT", "/past", {"charged": list(charged)})

    def charged(self) -> list[tuple[str, int]]:
        """What it charged, by its own memory: (reference, minor units)."""
        return self._pairs("/charged")

    def held(self) -> list[tuple[str, int]]:
        """What stands held on cards: (reference, minor units)."""
        return self._pairs("/held")

    def _pairs(self, path: str) -> list[tuple[str, int]]:
        found: list[list[Any]] = self._call("GET", path).json()
        return [(str(reference), int(amount)) for reference, amount in found]


class HttpService(HttpMachine):
    """A payment service at an address."""

    def keep_card(self, number: str, expiry: str, code: str) -> KnownCard:
        """Give a card's number for a token. Raises Incomplete beside the field that lacks something."""
        answer = self._call("POST", "/cards", {"number": number, "expiry": expiry, "code": code})
        return KnownCard(**answer.json())

    def keep_account(self, holder: str, number: str) -> KnownAccount:
        """Give a bank account's number for a token and a mandate. Raises Incomplete beside what lacks something."""
        answer = self._call("POST", "/accounts", {"holder": holder, "number": number})
        return KnownAccount(**answer.json())

    def returned(self) -> list[Returned]:
        """Every charge of a bank account that came back unpaid. Raises DeviceFault, also for what is not understood."""
        try:
            return [Returned(**one) for one in self._call("GET", "/returned").json()]
        except (AttributeError, TypeError, ValueError) as fault:
            raise NoAnswer(f"{self.name} answers in words that are not understood") from fault
