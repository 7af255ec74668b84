"""A supervisor's right, one's own or lent for one act, and the reason that goes with it."""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor
from abrazo.store.staff import Staff

LONGEST_REASON = 120


def lent(actor: Actor, lender: Staff | None, what: str) -> str | None:
    """Whose right a correction is done with: None for a supervisor's own, else the lender's id; refused without."""
    if actor.staff.role == "supervisor":
        return None
    if lender is None:
        raise Refused("right", f"{what} is a supervisor's right. One lends it with a PIN, or hand it on.", "pin")
    return lender.id


def read_reason(reason: str) -> str:
    """Why something is corrected, as it is kept."""
    plain = " ".join(reason.split())
    if not plain:
        raise Refused("reason", "Why? A few words for whoever looks at this later.", "reason")
    if len(plain) > LONGEST_REASON:
        raise Refused("reason", f"At most {LONGEST_REASON} characters; this has {len(plain)}.", "reason")
    return plain
