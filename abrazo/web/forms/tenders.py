"""Forms: tenders."""

from __future__ import annotations

from typing import Annotated, Literal

from abrazo.core.states import Extra
from abrazo.desk.payments.tenders import Sum
from abrazo.web.forms.base import AS_TYPED, Form, Id, Ids, Key, Lent, MaybeId, Secret, Text, Yes


class OfPayer(Form):
    """Something about a payer of a ticket, as the page showed it."""

    version: Id
    payer: Id
    key: Key


class Taken(OfPayer):
    """A sum taken from a payer, as typed."""

    take: Text = ""


class TakenFor(Taken):
    """The same, and what becomes of what is above the bill."""

    extra: Annotated[Extra | Literal[""], AS_TYPED] = ""

    def sum_of(self, amount: int) -> Sum:
        """What is to be taken, in minor units."""
        return Sum(amount, self.extra or None)


class Cash(TakenFor):
    """Take cash and open the drawer."""

    handed: Text = ""


class Invoices(Form):
    """What the person owes from before comes onto the ticket: one invoice, or all."""

    version: Id
    key: Key
    all: Text = ""
    invoice: Ids = ()


class Card(TakenFor):
    """Charge a card on a machine."""

    machine: Text = ""


class Keyed(TakenFor):
    """A card read out on the phone, charged through the payment service. Its number is not kept, nor shown again."""

    keep: Yes = False
    number: Secret = ""
    expiry: Text = ""
    code: Secret = ""


class StoredCard(TakenFor):
    """Charge a stored card."""

    card: Id


class Spend(Taken):
    """Gift card, voucher, store credit or points: used up for what is due."""

    kind: Text = ""
    reference: Text = ""


class SellStored(Form):
    """A gift card or voucher onto the ticket, or a top-up."""

    version: Id
    key: Key
    stored: Text = ""
    kind: Text = ""
    topped: Text = ""


class Record(Taken):
    """Money already taken: only noted."""

    tender: Text = ""
    reference: Text = ""


class OnAccount(Taken, Lent):
    """Leave it unpaid, on the account of the ticket's person or of a company of theirs."""

    account: MaybeId = 0
    reference: Text = ""


class Stop(Form):
    """Ask the machine to stop."""

    reference: Text = ""


class AskAgain(Form):
    """Ask the machine how a charge ended."""

    reference: Text = ""


class FreePayer(Lent):
    """Let the payer of a silent charge pay otherwise."""

    reference: Text = ""
    key: Key


class GiveBackLate(Form):
    """Give back a charge that came too late."""

    reference: Text = ""
    key: Key


class TakeBack(Form):
    """Take a payment back."""

    version: Id
    payment: Id
    key: Key


class SlipTip(Form):
    """The tip that stands on a signed slip: added to the charge, without the card."""

    version: Id
    payment: Id
    key: Key
    slip: Text = ""
    sure: Text = ""


class Slips(Form):
    """Print a payer's bill with lines for tip and signature, twice."""

    payer: Id
    key: Key
