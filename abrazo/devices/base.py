"""What the desk expects of devices, and how they fail.

DeviceFault
├── NoAnswer       nothing came back: the outcome is unknown
├── Unreachable    the device could not be reached: nothing was done
└── NotKnown       the device has never heard of this reference: nothing was done
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol


class DeviceFault(Exception):
    """A device did not do what it was asked."""


class NoAnswer(DeviceFault):
    """Nothing came back; whatever was asked may have been done."""


class Unreachable(DeviceFault):
    """The device could not be reached; nothing was done."""


class NotKnown(DeviceFault):
    """The device has no record of this reference; nothing was done."""


@dataclass(frozen=True, slots=True)
class CardAnswer:
    """What a card machine says about a reference. `outcome` is None while it is under way.

    `tip` is what the guest chose on the machine, in minor units, on top of the amount asked. `token` stands for
    the card with this machine; the card's number is never told.
    """

    step: str
    outcome: str | None = None
    reason: str = ""
    tip: int = 0
    brand: str = ""
    last_four: str = ""
    expiry: str = ""
    token: str = ""


class CardMachine(Protocol):
    """A card machine. Starting a reference that it knows changes nothing."""

    name: str

    def start(self, reference: str, amount: int, *, kind: str = "charge", ask_tip: bool = False, of: str = "") -> None:
        """Begin a charge, refund or hold, or the capture or release of the hold `of`; raises DeviceFault."""

    def look(self, reference: str) -> CardAnswer:
        """Where a reference stands, as the machine reports by itself; raises NoAnswer when it stays silent."""

    def inquire(self, reference: str) -> CardAnswer:
        """Ask for a reference's outcome from the machine's own memory; raises DeviceFault."""

    def stop(self, reference: str) -> None:
        """Cancel what is under way, if the card has not been answered yet."""


class Printer(Protocol):
    """A receipt printer."""

    def put(self, title: str, body: str, barcode: str = "") -> None:
        """Print plain text at 42 columns, and a code as bars under it; raises DeviceFault."""


class Drawer(Protocol):
    """The drawers of the tills."""

    def open(self, till: str, why: str) -> None:
        """Let a till's drawer spring open; raises DeviceFault."""


class Post(Protocol):
    """What carries messages to people."""

    def send(self, recipient: str, title: str, body: str) -> None:
        """Send a message to an e-mail address or phone number; raises DeviceFault."""
