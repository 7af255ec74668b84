"""Forms: people."""

from __future__ import annotations

from pydantic import ConfigDict, Field

from abrazo.web.forms.base import Form, Id, Ids, Key, Lent, MaybeId, Secret, Text, WithFile, Yes


class Facts(Form):
    """What is known of somebody; `own-FIELD` is a fact of the house's own."""

    model_config = ConfigDict(extra="allow")

    name: Text = ""
    phone: Text = ""
    email: Text = ""
    birthday: Text = ""
    household: Text = ""
    company: Text = ""
    account: Text = ""
    notes: Text = ""
    language: Text = ""
    another: Text = ""  # somebody else with a phone that is known


class Add(Facts):
    """Somebody new."""

    key: Key


class PayAccount(Form):
    """A ticket on which the person pays what is owed."""

    key: Key
    amount: Text = ""
    invoice: Ids = ()


class AccountTerms(Form):
    """What may be owed at most, and whether a reference is asked for; or a member of a company's account."""

    limit: Text = ""
    reference: Text = ""
    member: MaybeId = 0
    member_limit: Text = Field("", alias="member-limit")
    without: MaybeId = 0


class WriteOff(Lent):
    """What is left of an invoice, or an amount of it, is given up."""

    key: Key
    payment: Id
    amount: Text = Field("", alias="write-off")
    reason: Text = ""


class Remind(Form):
    """A reminder of what is overdue."""

    key: Key


class Membership(Form):
    """Somebody becomes a member until a day, or a membership rests for a while, or ends today."""

    key: Key
    until: Text = ""
    rest: MaybeId = 0
    rest_from: Text = Field("", alias="rest-from")
    rest_to: Text = Field("", alias="rest-to")
    kind: Text = ""
    end: MaybeId = 0


class StoreCard(Form):
    """The payment service keeps a card of somebody's, for payments to come. Number and code are not shown again."""

    key: Key
    number: Secret = ""
    expiry: Text = ""
    code: Secret = ""


class StoreAccount(Form):
    """The payment service keeps a bank account of somebody's, to collect from. Its number is not shown again."""

    key: Key
    holder: Text = ""
    account_number: Secret = ""
    agreed: Yes = False


class ForgetCard(Form):
    """A stored card is not offered any more."""

    card: Id


class Read(WithFile):
    """Read people from vCard or CSV; all or none."""

    key: Key


class Erase(Form):
    """What is held of somebody is erased."""

    key: Key


class Merge(Form):
    """Somebody else is the same, or a merge is undone: who, or which."""

    key: Key
    other: Id
