"""What is owed, by age.

Rules here
- days since the invoice date fall into 0-30, 31-60, 61-90 and over 90
- what is received goes to the invoices that were chosen, the rest to the oldest first
- a limit is on what is owed after a sum is put on, its tip included: of a member's own part, and of the whole account
- what is written off takes its part of the invoice's tax back, cumulatively: all of it, all of the tax (Directive
  2006/112/EC, article 90: the taxable amount is reduced in the case of total or partial non-payment)
- an invoice is reminded of once for each of the house's steps, when it is due for so many days
- a statement's balance after each row is the one before it and the row; the last one is what is owed at its end
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from fractions import Fraction
from itertools import accumulate

from abrazo.core.figures import TAX_OF_IT, Booked, Figure, FigureKind
from abrazo.core.ledger import Posting, tax_account
from abrazo.core.money import round_half_up, total

AGES = ((30, "0-30"), (60, "31-60"), (90, "61-90"))
OLDEST = "over 90"
BAD_DEBTS = "expenses:bad-debts"


def age_of(invoiced_on: date, today: date) -> str:
    """The age in which an invoice stands today. An invoice dated ahead counts as new."""
    days = (today - invoiced_on).days
    return next((name for most, name in AGES if days <= most), OLDEST)


def aged(invoices: Iterable[tuple[date, int]], today: date) -> dict[str, int]:
    """What is owed by age, in minor units; every age is listed. Invoices are (date, minor units owed)."""
    found = {name: 0 for _, name in AGES} | {OLDEST: 0}
    for invoiced_on, owed in invoices:
        found[age_of(invoiced_on, today)] += owed
    return found


def balances(opening: int, amounts: Iterable[int]) -> list[int]:
    """What is owed after each of some amounts, in minor units: charges are above zero, what came in below."""
    return list(accumulate(amounts, initial=opening))[1:]


def still_owed(invoices: Sequence[tuple[str, int]], owed: int, chosen: Mapping[str, int]) -> dict[str, int]:
    """What is left of every invoice, in minor units. `invoices` are (id, amount), the oldest first.

    `owed` is the account's balance: all invoices less what came in for good; `chosen` what of that was meant for an
    invoice, at most its amount. What is beyond all invoices is paid ahead, and in none of them.
    """
    left = {id: amount - min(amount, chosen.get(id, 0)) for id, amount in invoices}
    received = total(amount for _, amount in invoices) - owed
    rest = received - total(amount - left[id] for id, amount in invoices)
    for id, amount in reversed(invoices):  # less came in than was meant: some of it went back
        back = max(0, min(-rest, amount - left[id]))
        left[id] += back
        rest += back
    for id, _ in invoices:
        paid = max(0, min(rest, left[id]))
        left[id] -= paid
        rest -= paid
    return left


def above_limits(more: int, limits: Iterable[tuple[int, int | None]]) -> int:
    """How much what is owed would be above the limit that is passed most, with a further sum on it; 0 when none is.

    `limits` are (owed, limit) in minor units; None is no limit.
    """
    return max(0, max((owed + more - limit for owed, limit in limits if limit is not None), default=0))


def room_left(limits: Iterable[tuple[int, int | None]]) -> int | None:
    """How much more can be owed before a limit is passed, minor units, 0 or more; None where there is none.

    `limits` are (owed, limit) in minor units; None is no limit.
    """
    left = [max(0, limit - owed) for owed, limit in limits if limit is not None]
    return min(left, default=None)


def part_with(whole: int, of_it: int, before: int, part: int) -> int:
    """What of `of_it` goes with a part of a whole, when `before` of the whole went earlier: cumulative, minor units."""
    if not whole:
        return 0
    return round_half_up(Fraction(of_it * (before + part), whole)) - round_half_up(Fraction(of_it * before, whole))


def reminder_due(days: int, steps: Sequence[int], sent: int) -> int | None:
    """The reminder that is due for an invoice that is overdue for so many days; None while there is none to send."""
    return sent + 1 if sent < len(steps) and days >= steps[sent] else None


def written_off(account: str, amount: int, taxes: Sequence[tuple[str, int, int]]) -> Booked:
    """What is written off of an account, in minor units; `taxes` are (tax, what of it is that, what that is on)."""
    tax = total(amount for _, amount, _ in taxes)
    legs = [Posting(BAD_DEBTS, amount - tax), Posting(account, -amount)]
    legs += [Posting(tax_account(id), part) for id, part, _ in taxes]
    figures = [Figure(FigureKind.ACCOUNT, "written off", "", 1, amount)]
    figures += [Figure(FigureKind.TAX, id, "", 0, -part, -base) for id, part, base in taxes]
    figures.append(Figure(FigureKind.ACCOUNT, TAX_OF_IT, "", 0, tax))
    return Booked(tuple(leg for leg in legs if leg.amount), tuple(one for one in figures if one.amount or one.base))
