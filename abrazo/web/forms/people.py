"""Forms: people."""

from __future__ import annotations

from pydantic import Field

from abrazo.web.forms.base import Form, Id, Ids, Key, MaybeId, Secret, Text, WithFile


class Facts(Form):
    """What is known of somebody."""

    name: Text = ""
    phone: Text = ""
    email: Text = ""
    birthday: Text = ""
    household: Text = ""
    company: Text = ""
    account: Text = ""
    notes: Text = ""
    another: Text = ""  # somebody else with a phone that is known


class Add(Facts):
    """Somebody new."""

    key: Key


class PayAccount(Form):
    """A ticket on which the person pays what is owed."""

    key: Key
    amount: Text = ""
    invoice: Ids = ()


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


class ForgetCard(Form):
    """A stored card is not offered any more."""

    card: Id


class Read(WithFile):
    """Read people from vCard or CSV; all or none."""

    key: Key
