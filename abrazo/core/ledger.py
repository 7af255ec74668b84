"""Double entries: every one adds up to 0, in minor units, debits positive.

Rules here
- money taken: debit where it lies (cash by till, cards by route, what others owe), or the stored value it uses up;
  credit the open ticket
- a ticket closed: debit what its guests paid; credit sales by report group at their gross, tax by id, service charge,
  tips by staff; discounts and comps are contra-revenue by reason. Contained tax is taken out of sales and charges by
  their nets
- a line that takes a deposit is no sale: closing its ticket stores it; a payment on an account lowers what is owed
- a card held for a tab counts as nothing paid: two memorandum accounts against each other, until used or let go
- stored value (gift cards, store credit, deposits, series, points) is a liability until it is used
- cash rounding takes the difference; a refund of everything is the same entry with the signs turned
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from abrazo.core.bill import Bill
from abrazo.core.money import total, totals
from abrazo.core.sale_books import Names, SaleBooks, all_of
from abrazo.core.sharing import apportion
from abrazo.core.states import AdjustmentKind, Direction, FloatDifference, Tender, TipsTo
from abrazo.core.ticket import Adjustment, Ticket

OPEN_TICKETS = "liabilities:open-tickets"
SERVICE = "income:service-charge"
SURCHARGES = "income:surcharges"
ROUNDING = "income:cash-rounding"
OVER_SHORT = "expenses:over-and-short"
SAFE = "assets:safe"
BANK = "assets:bank"
RECEIVABLES = "assets:receivables"
CUSTOMERS = f"{RECEIVABLES}:person-"  # what all accounts of customers begin with
KEPT_DEPOSITS = "income:deposits-kept"
OPENING = "equity:opening-balances"  # what the house owed or had before its books began here
STORED = {
    "gift card": "liabilities:gift-cards",
    "store credit": "liabilities:store-credit",
    "deposit": "liabilities:deposits",
    "series": "liabilities:series",
    "points": "liabilities:points",
    "voucher": "liabilities:vouchers",
    "layaway": "liabilities:layaways",
}


class Role(StrEnum):
    """What a line does: it sells something, or takes money for later."""

    SALE = "sale"
    DEPOSIT = "deposit"
    ACCOUNT_PAYMENT = "account payment"
    GIFT_CARD = "gift card"
    VOUCHER = "voucher"
    STORE_CREDIT = "store credit"
    SERIES = "series"


@dataclass(frozen=True, slots=True)
class LineUse:
    """What a line does, in the books: a sale has its report group, a payment on an account the customer's number.

    `measured`: it was sold by weight or length, and counts as one.
    """

    role: Role
    group: str = ""
    customer: int | None = None
    measured: bool = False


@dataclass(frozen=True, slots=True)
class Posting:
    """One leg of an entry; debits positive, credits negative."""

    account: str
    amount: int


Postings = tuple[Posting, ...]


THROUGH_MACHINES = (Tender.CARD, Tender.KEYED_CARD, Tender.STORED_CARD, Tender.BANK_ACCOUNT)  # or the service


def slug(words: str) -> str:
    """Words as part of an account's name."""
    plain = "".join(character if character.isalnum() else " " for character in words.lower())
    return "-".join(plain.split()) or "none"


def money_account(tender: str, place: str) -> str:
    """The account that a tender debits. `place` is the till for cash, the machine or service for cards."""
    if tender == Tender.CASH:
        return f"assets:cash:{slug(place)}"
    if tender in THROUGH_MACHINES:
        return f"assets:card:{slug(place)}"
    return STORED.get(tender) or f"assets:recorded:{slug(tender)}"


def taken_postings(account: str, amount: int, credit: int = 0) -> Postings:
    """Money taken for an open ticket, `credit` of it to become store credit; negative amounts give it back."""
    legs = (Posting(account, amount), Posting(OPEN_TICKETS, credit - amount), Posting(STORED["store credit"], -credit))
    return tuple(leg for leg in legs if leg.amount)


def stored_postings(account: str, kind: str, amount: int) -> Postings:
    """Value stored: a gift card sold, a deposit or series taken, store credit given. Negative gives it back."""
    return Posting(account, amount), Posting(STORED[kind], -amount)


def received_postings(account: str, customer: int, amount: int) -> Postings:
    """Money received on a customer's account."""
    return Posting(account, amount), Posting(customer_account(customer), -amount)


def kept_deposit_postings(amount: int) -> Postings:
    """A deposit that the terms let the house keep."""
    return Posting(STORED["deposit"], amount), Posting(KEPT_DEPOSITS, -amount)


def petty_postings(till: str, category: str, amount: int, way: Direction = Direction.OUT) -> Postings:
    """Paid out of a drawer for a category, in, or from the bank outside of any drawer; minor units."""
    signed = -amount if way is Direction.IN else amount
    account = BANK if way is Direction.OUTSIDE else money_account("cash", till)
    return Posting(f"expenses:petty:{slug(category)}", signed), Posting(account, -signed)


def tips_paid_postings(till: str, staff: str, amount: int) -> Postings:
    """Tips paid out to somebody in cash."""
    return Posting(f"liabilities:tips:{slug(staff)}", amount), Posting(money_account("cash", till), -amount)


def pool_divided_postings(shares: Mapping[str, int]) -> Postings:
    """A pool of tips is parted: what was everybody's is each one's own."""
    parts = tuple(Posting(tips_account(staff), -amount) for staff, amount in shares.items() if amount)
    return Posting(tips_account(TipsTo.POOL), total(shares.values())), *parts


def payout_postings(route: str, arrived: int, fee: int) -> Postings:
    """A payout of a card machine or payment service: what came to the bank, what it kept as its fee; minor units."""
    legs = (Posting(BANK, arrived), Posting(f"expenses:fees:{slug(route)}", fee))
    return *(leg for leg in legs if leg.amount), Posting(money_account(Tender.CARD, route), -total((arrived, fee)))


def over_short_postings(till: str, over: int) -> Postings:
    """What a count found above (or, negative, below) what was expected."""
    return Posting(money_account("cash", till), over), Posting(OVER_SHORT, -over)


def banked_postings(till: str, amount: int) -> Postings:
    """Cash of a drawer that goes to the bank or the safe; negative comes from there."""
    return Posting(BANK, amount), Posting(money_account("cash", till), -amount)


def float_postings(till: str, why: FloatDifference, more: int) -> Postings:
    """What a float is above what its drawer was left with, or (negative) below: by its reason."""
    if why is FloatDifference.UNKNOWN:
        return over_short_postings(till, more)
    other = SAFE if why is FloatDifference.FIRST else BANK
    return (Posting(money_account("cash", till), more), Posting(other, -more)) if more else ()


def hold_postings(machine: str, amount: int) -> Postings:
    """A sum held on a card; negative lets it go, or uses it up."""
    return Posting(f"assets:held-on-cards:{slug(machine)}", amount), Posting("liabilities:held-on-cards", -amount)


def points_postings(worth: int) -> Postings:
    """Points earned, at their set value in minor units: owed to the customer; negative takes them back."""
    return Posting("expenses:points", worth), Posting(STORED["points"], -worth)


def customer_account(customer: int) -> str:
    """What a customer owes; names repeat, so accounts are told apart by the customer's number."""
    return f"{CUSTOMERS}{customer}"


def customer_of(account: str) -> int:
    """Whose account one of `customer_account` is: the customer's number. ValueError for any other."""
    if not account.startswith(CUSTOMERS):
        raise ValueError(account)
    return int(account.removeprefix(CUSTOMERS))


def line_account(use: LineUse) -> str:
    """The account that a line credits."""
    if use.role is Role.SALE:
        return f"income:sales:{slug(use.group)}"
    return customer_account(use.customer or 0) if use.role is Role.ACCOUNT_PAYMENT else STORED[use.role]


def tips_account(staff: str) -> str:
    """Where the tips of somebody lie until they are paid out; `pool` is everybody's."""
    return f"liabilities:tips:{slug(staff)}"


def turned(postings: Iterable[Posting]) -> Postings:
    """The same entry with the signs turned: it takes back all of it."""
    return tuple(Posting(posting.account, -posting.amount) for posting in postings)


def sale_names(uses: Mapping[str, LineUse]) -> Names:
    """What a sale's accounts are called in the house's books. `uses` says by line id what each line does."""
    return Names(lambda line: line_account(uses[line.id]), lambda charge: SERVICE, given_account, tax_account)


def tax_account(tax: str) -> str:
    """Where a tax lies until it is paid on."""
    return f"liabilities:tax:{tax}"


OTHER = "other"  # reasons that somebody typed


def given_account(adjustment: Adjustment) -> str:
    """Where a discount, benefit, comp or surcharge stands, by its reason."""
    if adjustment.kind == AdjustmentKind.SURCHARGE:
        return SURCHARGES
    comped = adjustment.percent == 100 and adjustment.kind == AdjustmentKind.DISCOUNT
    return (
        f"income:{'comps' if comped else f'{adjustment.kind}s'}:{OTHER if adjustment.free else slug(adjustment.named)}"
    )


def close_postings(ticket: Ticket, bill: Bill, uses: Mapping[str, LineUse]) -> Postings:
    """What closing a settled ticket posts. `uses` says by line id what each line does."""
    books = SaleBooks(ticket, bill, sale_names(uses))
    credits = [*books.credits(all_of(ticket, bill)).items()]
    credits += [(tips_account(staff), amount) for staff, amount in bill.staff_tips]
    credits.append((ROUNDING, bill.rounding))
    legs = totals([(OPEN_TICKETS, bill.paid), *((account, -amount) for account, amount in credits)])
    return balanced([Posting(account, amount) for account, amount in legs.items() if amount])


def balanced(postings: Sequence[Posting]) -> Postings:
    """The same postings; a bug when they do not add up to 0."""
    if sum(posting.amount for posting in postings):
        raise AssertionError(f"postings out of balance: {postings}")
    return tuple(postings)


def tip_parts(tip: int, shares: Sequence[tuple[str, int]]) -> list[tuple[str, int]]:
    """A tip cut over people by their shares, in minor units; those of whom nothing is are left out."""
    if not tip:
        return []
    parts = apportion(tip, [share for _, share in shares])
    return [(staff, part) for (staff, _), part in zip(shares, parts, strict=True) if part]


def tip_back_postings(account: str, tip: int, shares: Sequence[tuple[str, int]]) -> Postings:
    """A tip given back for a closed ticket: out of where it lies, and from those whose it was, by their `shares`."""
    legs = [Posting(tips_account(staff), part) for staff, part in tip_parts(tip, shares)]
    return balanced([*legs, Posting(account, -tip)] if tip else [])
