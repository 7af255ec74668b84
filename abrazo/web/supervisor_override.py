"""A supervisor's right, lent for one act by PIN on the form of that act."""

from __future__ import annotations

from abrazo.desk.context import Actor, House, Staff
from abrazo.desk.permissions import lenders, needs_no_lender
from abrazo.desk.sign_in import lend


def lender_of(house: House, actor: Actor, lender: str, pin: str) -> Staff | None:
    """The supervisor who lends a right with a PIN; None when nobody needs to, or did."""
    if needs_no_lender(actor.staff) or not pin.strip():
        return None
    return lend(house, lender, pin.strip())


def supervisors(house: House) -> list[Staff]:
    """Who can lend a right."""
    return lenders(house.staff().values())
