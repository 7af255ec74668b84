"""Forms: tenders."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Ids, Key, Text, Yes


class Cash(Form):
    """Take cash and open the drawer."""

    version: Id
    payer: Id
    key: Key
    take: Text = ""
    handed: Text = ""
    extra: Text = ""


class Invoices(Form):
    """What the person owes from before comes onto the ticket: one invoice, or all."""

    version: Id
    key: Key
    all: Text = ""
    invoice: Ids = ()


class Card(Form):
    """Charge a card on a machine."""

    version: Id
    payer: Id
    key: Key
    take: Text = ""
    machine: Text = ""
    extra: Text = ""


class Keyed(Form):
    """A card read out on the phone, charged through the payment service. Its number is not kept, nor shown again."""

    version: Id
    payer: Id
    key: Key
    keep: Yes = False
    take: Text = ""
    extra: Text = ""
    number: Text = ""
    expiry: Text = ""
    code: Text = ""


class StoredCard(Form):
    """Charge a stored card."""

    version: Id
    payer: Id
    card: Id
    key: Key
    take: Text = ""
    extra: Text = ""


class Spend(Form):
    """Gift card, voucher, store credit or points: used up for what is due."""

    version: Id
    payer: Id
    key: Key
    take: Text = ""
    kind: Text = ""
    reference: Text = ""


class SellStored(Form):
    """A gift card or voucher onto the ticket, or a top-up."""

    version: Id
    key: Key
    stored: Text = ""
    kind: Text = ""
    topped: Text = ""


class Record(Form):
    """Money already taken: only noted."""

    version: Id
    payer: Id
    key: Key
    take: Text = ""
    tender: Text = ""
    reference: Text = ""


class OnAccount(Form):
    """Leave it unpaid, on the account of the ticket's person."""

    version: Id
    payer: Id
    key: Key
    take: Text = ""


class Stop(Form):
    """Ask the machine to stop."""

    reference: Text = ""


class AskAgain(Form):
    """Ask the machine how a charge ended."""

    reference: Text = ""


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


class Slips(Form):
    """Print a payer's bill with lines for tip and signature, twice."""

    payer: Id
    key: Key
