"""States, kinds and steps that pages show as one word: the code is what English says."""

from __future__ import annotations

from abrazo.words.catalogue import Catalogue

STATES = (
    # a ticket
    *("open", "on hold", "just seated", "ordering", "eating", "bill asked", "part paid", "paid", "settled", "free"),
    *(
        "card unknown",
        "card under way",
        "outcome unknown",
        "not paid yet",
        "nothing to pay",
        "on account",
        "paid, in part on account",
    ),
    *("table", "booking", "walk-in", "counter", "tab", "phone", "job", "person"),
    # a booking
    *("booked", "here", "now", "ended", "on ticket", "did not come", "cancelled"),
    # a job
    *("waiting", "in work", "ready", "handed over"),
    # a hire
    *("out", "due back today", "late", "back"),
    # what is given on a ticket
    *("discount", "comp", "surcharge", "benefit", "series"),
    # gift cards and vouchers
    *("gift card", "voucher", "store credit", "points"),
    # what stands at a till after somebody signs in
    "counter mode",
    # which days are looked through
    *("today", "yesterday", "7 days", "all"),
    # shapes of tables
    *("round", "square", "stool"),
    # why goods are counted anew
    *("recount", "delivery", "breakage", "loss", "first stock"),
    *("came back", "unsaleable", "bought", "taken back"),
    # where a card's charge stands
    *("Asking the machine", "Sent to the machine", "Sent to the payment service", "Card shown", "Tip chosen"),
    *("PIN keyed", "Asking the bank", "Approved"),
    # files that go out, what a stand-in does next
    *(
        "report",
        "bookings",
        "auditor's folder",
        "accounts",
        "statements",
        "course",
        "person",
        "job",
        "owner",
        "fails",
        "works",
    ),
    # by what a pool of tips is divided
    "hours",
    # why a drawer opened
    *("cash", "change", "paid in", "paid out", "count", "float"),
)


def state_word(texts: Catalogue, code: str) -> str:
    """A state in the words of a language; what is not in the catalogue is shown as it is."""
    return texts.gettext(code) if code else ""
