"""The double entries of a whole ticket as it stands, by account: sale, payments, tips, rounding, refunds.

Rules here (reckoning, section 13)
- debits are positive, all accounts add up to 0; `open` is what is not yet paid
- what refunds give back goes to the latest payments first, to each at most what it paid; cash by the cash step,
  cumulatively, and a payment that goes back whole goes back as it came
"""

from __future__ import annotations

from collections.abc import Sequence

from abrazo.core.bill import Bill
from abrazo.core.money import totals
from abrazo.core.returns import Returned
from abrazo.core.sale_books import Given, Names, SaleBooks, all_of
from abrazo.core.states import AdjustmentKind, Tender
from abrazo.core.tenders import cash_back, covers, given, open_account
from abrazo.core.ticket import Adjustment, Ticket

NO_REASON = "none"


def _given_account(adjustment: Adjustment) -> str:
    if adjustment.kind == AdjustmentKind.SURCHARGE:
        return "surcharges"
    kind = "benefits" if adjustment.kind == AdjustmentKind.BENEFIT else "discounts"
    return f"{kind}:{adjustment.reason or NO_REASON}"


NAMES = Names(lambda line: "sales", lambda charge: "charges", _given_account, lambda tax: f"tax:{tax}")


def ticket_postings(ticket: Ticket, bill: Bill, returned: Sequence[Returned], back: Given) -> list[tuple[str, int]]:
    """The entry of a ticket: (account, minor units), accounts with 0 left out, sorted by name; the sum is 0."""
    books = SaleBooks(ticket, bill, NAMES)
    credits = list(books.credits(all_of(ticket, bill)).items())
    credits += [(f"tips:{staff}", amount) for staff, amount in bill.staff_tips]
    credits.append(("rounding", bill.rounding))
    credits.append(("store-credit", sum(payer.account.credit for payer in bill.payers)))
    debits = [("open", bill.due)]
    debits += [(f"tender:{one.tender}", given(one.amount, one.tip)) for one in ticket.payments]
    taken_back = list(books.credits(back).items())
    if any(one.tips for one in returned):
        taken_back += [(f"tips:{staff}", amount) for staff, amount in bill.staff_tips]
    gone, rounding = _money_back(ticket, bill, sum(one.amount for one in returned))
    legs = [*debits, *((account, -amount) for account, amount in credits), *taken_back, *gone, ("rounding", rounding)]
    found = totals(legs)
    assert not sum(found.values()), found
    return sorted((account, amount) for account, amount in found.items() if amount)


def _money_back(ticket: Ticket, bill: Bill, amount: int) -> tuple[list[tuple[str, int]], int]:
    """What goes back by tender (credits, negative), and what rounding of cash takes up (a debit)."""
    found, rounding = list[tuple[str, int]](), 0
    for payment, covered in reversed(list(zip(ticket.payments, _covers(ticket, bill), strict=True))):
        part = min(amount, covered)
        if part <= 0:
            continue
        amount -= part
        back = part
        if payment.tender == Tender.CASH:
            back = cash_back(given(payment.amount, payment.tip), covered, 0, part, ticket.cash_rounding)
        found.append((f"tender:{payment.tender}", -back))
        rounding += back - part
    return found, rounding


def _covers(ticket: Ticket, bill: Bill) -> list[int]:
    """What each payment pays of bill and tips, in the order of the ticket's."""
    by_payer = {
        payer.id: iter(
            covers(
                open_account(payer.account.total, payer.account.stated),
                [one for one in ticket.payments if one.payer == payer.id],
                ticket.cash_rounding,
            )
        )
        for payer in bill.payers
    }
    return [next(by_payer[payment.payer]) for payment in ticket.payments]
