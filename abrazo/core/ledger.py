"""Double entries: every one adds up to 0, in minor units, debits positive.

Rules here
- money taken: debit where it lies (cash by till, card clearing by machine), credit the open ticket
- a ticket closed: debit what its guests paid, credit sales by report group, tax by id, service charge, tips by staff;
  cash rounding takes the difference. Contained tax is taken out of sales by apportioning it over the groups' bases
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from abrazo.core.reckon import Bill
from abrazo.core.sharing import apportion
from abrazo.core.ticket import Ticket

OPEN_TICKETS = "liabilities:open-tickets"
SERVICE = "income:service-charge"
ROUNDING = "income:cash-rounding"


@dataclass(frozen=True, slots=True)
class Posting:
    """One leg of an entry; debits positive, credits negative."""

    account: str
    amount: int


def taken_postings(account: str, amount: int) -> tuple[Posting, ...]:
    """Money taken for an open ticket; a negative amount gives it back."""
    return Posting(account, amount), Posting(OPEN_TICKETS, -amount)


def close_postings(ticket: Ticket, bill: Bill, groups: Mapping[str, str]) -> tuple[Posting, ...]:
    """What closing a settled ticket posts. `groups` gives the report group of each line id."""
    credits: dict[str, int] = {}

    def credit(account: str, amount: int) -> None:
        credits[account] = credits.get(account, 0) + amount

    sold = [
        (f"income:sales:{groups[line.id]}", line.net, item.tax)
        for line, item in zip(bill.lines, ticket.lines, strict=True)
    ]
    sold += [(SERVICE, amount, charge.tax) for charge, (_, amount) in zip(ticket.charges, bill.charges, strict=True)]
    for account, amount, _ in sold:
        credit(account, amount)
    for tax in bill.taxes:
        credit(f"liabilities:tax:{tax.id}", tax.tax)
        if ticket.tax_mode == "inclusive":
            legs = [(account, amount) for account, amount, tax_id in sold if tax_id == tax.id]
            for (account, _), part in zip(legs, _parts(tax.tax, [amount for _, amount in legs]), strict=True):
                credit(account, -part)
    for staff, amount in bill.staff_tips:
        credit(f"liabilities:tips:{staff}", amount)
    credit(ROUNDING, sum(payer.account.rounding for payer in bill.payers))
    legs_out = [Posting(OPEN_TICKETS, bill.paid)] + [Posting(account, -amount) for account, amount in credits.items()]
    return balanced([leg for leg in legs_out if leg.amount])


def _parts(total: int, weights: Sequence[int]) -> tuple[int, ...]:
    return apportion(total, weights) if total else (0,) * len(weights)


def balanced(postings: Sequence[Posting]) -> tuple[Posting, ...]:
    """The same postings; a bug when they do not add up to 0."""
    if sum(posting.amount for posting in postings):
        raise AssertionError(f"postings out of balance: {postings}")
    return tuple(postings)
