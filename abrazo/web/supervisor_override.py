"""A supervisor's right, lent for one act by PIN on the form of that act."""

from __future__ import annotations

from dataclasses import replace

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House, Staff
from abrazo.desk.permissions import lenders, needs_no_lender
from abrazo.desk.sign_in import lend
from abrazo.web.forms.base import Lent


def with_lender(house: House, actor: Actor, form: Lent) -> Actor:
    """Who acts, with the supervisor who lends them a right by PIN, when one is needed and did."""
    pin = form.pin.strip()
    return (
        actor
        if needs_no_lender(actor.staff) or not pin
        else replace(actor, lender=lend(house, actor, form.lender, pin))
    )


def ask_to_lend(refusal: Refused) -> None:
    """A refusal for want of a right, on a page that has no field for a PIN: the page that asks for it comes instead."""
    if refusal.where == "pin":
        raise refusal


def supervisors(house: House) -> list[Staff]:
    """Who can lend a right."""
    return lenders(house.workers().values())
