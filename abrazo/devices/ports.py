"""What the desk expects of devices, and how they fail.

DeviceFault
├── NoAnswer       nothing came back: the outcome is unknown
├── Unreachable    the device could not be reached: nothing was done
├── NotKnown       the device has never heard of this reference: nothing was done
└── Duplicate      the device says that it used this reference before: ask what stands under it
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

from abrazo.core.states import RequestKind, RequestState

SENT_TO_MACHINE = "Sent to the machine"  # the first step of a request, as devices name it
SENT_TO_SERVICE = "Sent to the payment service"


class DeviceFault(Exception):
    """A device did not do what it was asked."""


class NoAnswer(DeviceFault):
    """Nothing came back; whatever was asked may have been done."""


class Unreachable(DeviceFault):
    """The device could not be reached; nothing was done."""


class NotKnown(DeviceFault):
    """The device has no record of this reference; nothing was done."""


class Duplicate(DeviceFault):
    """The device says that it has used this reference before, and did nothing now."""


class Incomplete(Exception):
    """The payment service lacks something about a card; `where` is the field, `what` says it."""

    def __init__(self, where: str, what: str) -> None:
        super().__init__(what)
        self.where, self.what = where, what


@dataclass(frozen=True, slots=True)
class CardAnswer:
    """What a card machine says about a reference. `outcome` is None while it is under way.

    `amount` is what was approved, in minor units: it can be less than was asked. `tip` is what the guest chose on
    the machine, on top. `signature`: the guest signs for it. `token` stands for the card with this machine; the
    card's number is never told.
    """

    step: str
    outcome: RequestState | None = None
    reason: str = ""
    tip: int = 0
    brand: str = ""
    last_four: str = ""
    expiry: str = ""
    token: str = ""
    amount: int = 0
    signature: bool = False


@dataclass(frozen=True, slots=True)
class Script:
    """What a stand-in was told comes next."""

    outcome: str = "approve"
    tip_percent: int = 0
    line_down: bool = False
    pace: float = 1.0  # seconds a step


@dataclass(frozen=True, slots=True)
class KnownCard:
    """What is ever kept of a card: never its number or its code."""

    token: str
    brand: str
    last_four: str
    expiry: str  # MM/YY


@dataclass(frozen=True, slots=True)
class KnownAccount:
    """What is ever kept of a bank account: never its number. `mandate` is what the service collects by."""

    token: str
    holder: str
    last_four: str
    mandate: str


@dataclass(frozen=True, slots=True)
class Returned:
    """A charge of a bank account that came back unpaid: the service's reference, and the charge's; minor units."""

    reference: str
    of: str
    amount: int
    reason: str


class CardMachine(Protocol):
    """A card machine. Starting a reference that it knows changes nothing."""

    name: str

    def start(
        self,
        reference: str,
        amount: int,
        *,
        kind: RequestKind = RequestKind.CHARGE,
        ask_tip: bool = False,
        of: str = "",
    ) -> None:
        """Begin a charge, refund or hold; the capture or release of the hold `of`; a tip added to the charge `of`.

        At the payment service a charge is of the card `of`, by its token. Raises DeviceFault.
        """

    def look(self, reference: str) -> CardAnswer:
        """Where a reference stands, as the machine reports by itself; raises NoAnswer when it stays silent."""

    def inquire(self, reference: str) -> CardAnswer:
        """Ask for a reference's outcome from the machine's own memory; raises DeviceFault.

        A reference that is NotKnown is closed by this: should it arrive later, it is refused, not charged.
        """

    def stop(self, reference: str) -> None:
        """Cancel what is under way, if the card has not been answered yet."""


class StandIn(CardMachine, Protocol):
    """What a stand-in for a card machine can besides."""

    @property
    def told(self) -> Script:
        """What it was told comes next."""

    def tell(self, told: Script) -> None:
        """Say what comes next; what has begun already stays as it was."""

    def charged(self) -> list[tuple[str, int]]:
        """Every approved reference and what it moved in minor units, refunds negative."""

    def held(self) -> list[tuple[str, int]]:
        """Sums that stand reserved on cards: the reference of each hold and its minor units."""

    def remember(self, charged: Iterable[tuple[str, int, float]]) -> None:
        """Charges of the past: (reference, minor units, seconds since the epoch)."""

    def batch(self) -> str:
        """Everything it moved, as its batch file: CSV, described in docs/formats/payment-devices.md."""


class PaymentService(StandIn, Protocol):
    """Charges cards that are keyed or stored, and bank accounts. It answers for references as a card machine does."""

    def keep_card(self, number: str, expiry: str, code: str) -> KnownCard:
        """Give a card's number for a token. Raises Incomplete, naming what is missing or wrong, or DeviceFault."""

    def keep_account(self, holder: str, number: str) -> KnownAccount:
        """Give a bank account's number for a token and a mandate. Raises Incomplete or DeviceFault."""

    def returned(self) -> list[Returned]:
        """Every charge of a bank account that came back unpaid, days after it was approved. Raises DeviceFault."""


class Printer(Protocol):
    """A receipt printer."""

    def put(self, title: str, data: bytes) -> None:
        """Print ESC/POS bytes; raises DeviceFault."""


class Drawer(Protocol):
    """The drawers of the tills."""

    def open(self, till: str, why: str) -> None:
        """Let a till's drawer spring open; raises DeviceFault."""


class Texts(Protocol):
    """What carries text messages to people."""

    def send(self, number: int, recipient: str, title: str, body: str) -> None:
        """Send a text message to a phone number, under our number for it; raises DeviceFault."""


class Mail(Protocol):
    """What carries e-mail to people."""

    def mail(self, number: int, message: str) -> None:
        """Send an e-mail as RFC 5322 says it, under our number for it; raises DeviceFault."""
