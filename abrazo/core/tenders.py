"""Taking money: what a payment does to what is due.

Rules here
- payments apply in order; a payment's tip first raises the payer's tip, then the payment is compared with what is due
- cash is rounded to the nearest multiple of the house's step, half up; the difference is posted as rounding
- what is above due is refused, unless it becomes tip or store credit
- likely cash: the cash due, then for each note and main-unit coin the next multiple; at most five
- change comes out of what the drawer really holds, in the fewest pieces
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from math import gcd

from abrazo.core.errors import Code, Refused
from abrazo.core.money import bounded
from abrazo.core.states import Extra, Tender


@dataclass(frozen=True, slots=True)
class Payment:
    """Money taken from a payer. Minor units; `tendered` only with cash; `extra` is None, tip or credit."""

    payer: str
    tender: str
    amount: int
    tip: int = 0
    tendered: int | None = None
    extra: Extra | None = None


@dataclass(frozen=True, slots=True)
class Account:
    """Where a payer stands. All in minor units; `tip` is the larger of stated and paid tips, plus extras."""

    total: int
    stated: int
    tip: int = 0
    paid_tips: int = 0
    extras: int = 0
    paid: int = 0
    rounding: int = 0
    credit: int = 0
    change: int = 0

    @property
    def asked(self) -> int:
        """Bill and tip together."""
        return self.total + self.tip

    @property
    def due(self) -> int:
        """What is still to pay."""
        return self.total + self.tip + self.rounding - self.paid

    @property
    def open_tip(self) -> int:
        """What of the tip no payment has brought yet."""
        return self.tip - self.paid_tips - self.extras

    @property
    def open_bill(self) -> int:
        """What is still to pay of the bill alone, tips left out; 0 or more."""
        return max(0, self.due - self.open_tip)

    @property
    def unpaid(self) -> int:
        """What of the bill alone is above all that was paid."""
        return self.total - self.paid


def open_account(total: int, stated: int) -> Account:
    """A payer who has paid nothing yet."""
    return Account(total=total, stated=stated, tip=stated)


def cash_due(due: int, step: int) -> int:
    """What cash would settle: `due` to the nearest multiple of `step` minor units, half up (common practice)."""
    return due if step <= 1 else (2 * due + step) // (2 * step) * step


def given(amount: int, tip: int) -> int:
    """What a payment brings for bill and tip together, in minor units."""
    return amount + tip


def on_bill(amount: int, credit: int) -> int:
    """What of a payment's amount pays its bill: all but what became credit; minor units."""
    return amount - credit


def change_from(handed: int, asked: int) -> int:
    """What comes back of cash that was handed over, in minor units; negative when it is not enough."""
    return handed - asked


def above_due(due: int, wanted: int) -> int:
    """How much a sum is above what is due, in minor units; 0 when it is not."""
    return max(0, wanted - due)


def change_for(payment: Payment, where: str = "") -> int:
    """Change on a cash payment; refused when less was handed over than is paid."""
    if payment.tendered is None:
        return 0
    change = change_from(payment.tendered, given(payment.amount, payment.tip))
    if change < 0:
        raise Refused(Code.TOO_LITTLE_CASH, where)
    return change


def pay(account: Account, payment: Payment, step: int, where: str = "") -> Account:
    """Apply one payment. `step` is the cash rounding in minor units (1: none)."""
    brought = given(payment.amount, payment.tip)
    if brought <= 0:
        raise Refused(Code.NOTHING_PAID, where)
    change = change_for(payment, where)
    paid_tips = account.paid_tips + payment.tip
    account = replace(
        account,
        paid_tips=paid_tips,
        tip=max(account.stated, paid_tips) + account.extras,
        change=account.change + change,
    )
    due = account.due
    if payment.tender == Tender.CASH and step > 1 and brought == cash_due(due, step):
        return replace(account, rounding=account.rounding + brought - due, paid=account.paid + brought)
    above = brought - due
    if above <= 0:
        return replace(account, paid=account.paid + brought)
    if payment.extra == Extra.TIP:
        extras = account.extras + above
        return replace(account, extras=extras, tip=account.tip + above, paid=account.paid + brought)
    if payment.extra == Extra.CREDIT:
        return replace(account, credit=account.credit + above, paid=account.paid + due)
    raise Refused(Code.ABOVE_DUE, where, above=above)


def covers(account: Account, payments: Iterable[Payment], step: int) -> list[int]:
    """What each of a payer's payments pays of bill and tips, in minor units: rounding and what became credit left out.

    `account` is the payer's before the first of them.
    """
    found = []
    for payment in payments:
        now = pay(account, payment, step)
        found.append(now.paid - account.paid - (now.rounding - account.rounding))
        account = now
    return found


def cash_back(gave: int, covered: int, before: int, part: int, step: int) -> int:
    """What of a cash payment is handed back for a part of what it covered, when `before` went back already.

    By the cash step, cumulatively (`round_k(c2) - round_k(c1)`, reckoning 13); a payment that goes back whole goes back
    as it came: `gave`. Minor units.
    """

    def back(so_far: int) -> int:
        return gave if so_far >= covered else cash_due(so_far, step)

    return back(before + part) - back(before)


@dataclass(frozen=True, slots=True)
class Parts:
    """A sum taken from a payer, cut into what is on the bill and what is tip; minor units.

    `credit` is what of the amount is above the bill and becomes store credit; `over` what of the tip is above what is
    due.
    """

    amount: int
    tip: int
    credit: int = 0
    over: int = 0

    @property
    def given(self) -> int:
        """Both together."""
        return given(self.amount, self.tip)


def allocate(account: Account, brought: int, extra: Extra | None = None, step: int = 1) -> Parts | None:
    """Cut what a payer gives, in minor units: the bill first, then the tip; above what is due as said, tip or credit.

    `step` is the cash rounding for cash (1: none): what cash can pay is what is due. None when it is above what is due
    and nothing was said of the rest.
    """
    due, open_tip = account.due, account.open_tip
    if brought == cash_due(due, step):
        tip = min(open_tip, brought)
        return Parts(brought - tip, tip)
    above = brought - due
    if above <= 0:
        amount = min(brought, due - open_tip)
        return Parts(amount, brought - amount)
    if extra == Extra.TIP:
        return Parts(due - open_tip, open_tip + above, over=above)
    return Parts(brought - open_tip, open_tip, above) if extra == Extra.CREDIT else None


def approved_parts(asked: Parts, approved: int, more_tip: int) -> Parts:
    """Cut what a card machine approved of what was asked, and the tip that was given on it; minor units.

    All of it is cut as it was asked for; of a part the bill comes first, and nothing becomes credit.
    """
    if approved >= asked.given:
        return Parts(asked.amount, asked.tip + more_tip, asked.credit)
    amount = min(approved, on_bill(asked.amount, asked.credit))
    return Parts(amount, approved - amount)


def spent_of(worth: int, amount: int) -> tuple[int, int]:
    """What of a gift card, voucher or credit pays an amount, and what of it is left; minor units."""
    taken = min(worth, amount)
    return taken, worth - taken


def likely_cash(due: int, denominations: Iterable[tuple[int, bool]], main_unit: int, step: int = 1) -> list[int]:
    """Sums a guest is likely to hand over: the cash due, then at most three above it; ascending, no repeats.

    Of the next multiples of each piece: the lowest, the lowest that is one piece, then the lowest of the others.
    `denominations` are (minor units, is a note); coins of at least one main unit count below the smallest note.
    """
    cash, pieces = cash_due(due, step), list(denominations)
    if cash <= 0:
        return []
    coins = cash < min((value for value, note in pieces if note), default=cash + 1)
    values = [value for value, note in pieces if note or (coins and value >= main_unit)]
    above = sorted({-(-cash // value) * value for value in values} - {cash})
    single = [sum_ for sum_ in above if sum_ in values]
    chosen = dict.fromkeys([*above[:1], *single[:1], *above])
    return [cash, *sorted(list(chosen)[:3])]


def change_pieces(change: int, drawer: Mapping[int, int]) -> dict[int, int] | None:
    """Fewest pieces that make the change from what the drawer holds (value -> number), or None when it cannot be made.

    Exact search over sums (a greedy choice fails when a denomination has run out).
    """
    unit = gcd(change, *(value for value, held in drawer.items() if held > 0))
    best: list[tuple[int, dict[int, int]] | None] = [None] * (change // unit + 1) if unit else [(0, {})]
    best[0] = (0, {})
    for value in sorted((v for v, held in drawer.items() if held > 0 and 0 < v <= change), reverse=True):
        for number in _bundles(min(drawer[value], change // value)):
            step = number * value // unit
            for total in range(len(best) - 1, step - 1, -1):
                before, now = best[total - step], best[total]
                if before is not None and (now is None or before[0] + number < now[0]):
                    best[total] = (before[0] + number, {**before[1], value: before[1].get(value, 0) + number})
    reached = best[-1]
    return None if reached is None else reached[1]


def _bundles(number: int) -> list[int]:
    """Bundles of 1, 2, 4 ... and a rest that together make any number up to `number`."""
    found, size = [], 1
    while number > 0:
        found.append(min(size, number))
        number, size = number - found[-1], size * 2
    return found


def settle_all(total: int, stated: int, payments: Iterable[tuple[Payment, str]], step: int) -> Account:
    """A payer's account after all of its payments, each with the place to name when it is refused."""
    account = open_account(total, stated)
    for payment, where in payments:
        account = pay(account, payment, step, where)
    for amount in (account.paid, account.tip, account.due, account.change, account.credit, account.rounding):
        bounded(amount)
    return account
