"""What the house decides once: what happens to a paid table, and what its receipts show.

Rules here
- a table is freed by hand, or by itself so many minutes after the last payment; until then it can be taken back
- removed lines stand on receipts, or they don't
- days that are left of a membership are given back, or they are not
- what an early return of a hire leaves by the tariffs is given back, or is not
- tax on deposits is owed when they are received, or with the sale
- after how many days an invoice that is due is reminded of, once for each
- cash is signed for, or only what a card machine wants signed
- which language the house reads, of those that there is a catalogue of
- after how many minutes without a touch a screen locks itself
- what money is paid out of drawers for
- how invoices name the house
- on which days jobs are promised, and what becomes of those that nobody collects
- up to which sum everybody pays out of a drawer, and up to which percent everybody gives a discount
- the accounts that sales without a customer are kept apart as
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from abrazo.core.errors import Code, Refused
from abrazo.core.invoices import is_country
from abrazo.core.journal import Kind, Personal
from abrazo.core.money import read_decimal
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right
from abrazo.formats.typed_amount import read_amount
from abrazo.store import settings, till
from abrazo.words.catalogue import languages

MOST_MINUTES, MOST_IDLE, MOST_REMINDERS = 120, 240, 5
MOST_ACCOUNTS, MOST_CATEGORIES, LONGEST_ACCOUNT, LONGEST_LEGAL = 8, 20, 30, 100
LONG_DAYS = 4  # digits of a number of days, and one


class HouseRule(StrEnum):
    """What can be decided."""

    FREE_AFTER = "free_after"
    SHOW_REMOVED = "show_removed"
    LANGUAGE = "language"
    SOLD_FROM = "sold_from"
    PETTY = "petty"
    IDLE = "idle"
    PAY_OUT = "pay_out"
    FREE_DISCOUNT = "free_discount"
    SIGN_CASH = "sign_cash"
    MEMBERSHIPS_BACK = "memberships_back"
    REMINDER_DAYS = "reminder_days"
    TAX_ON_ADVANCES = "tax_on_advances"
    EARLY_HIRES = "early_hires"
    LEGAL = "legal"
    JOBS = "jobs"


@dataclass(frozen=True, slots=True)
class Habits:
    """`free_after`: minutes until a paid table is freed by itself, None by hand. `show_removed`: on receipts."""

    free_after: int | None = None
    show_removed: bool = False


def habits(house: House) -> Habits:
    """What the house has decided."""
    return Habits(house.settings.free_after, house.settings.show_removed)


def petty_categories(house: House) -> list[str]:
    """What money is paid out of drawers for."""
    return till.petty_categories(house.connection)


def decide(house: House, actor: Actor, rule: HouseRule, value: str) -> None:
    """Decide one of them anew; refused where the value is none for it."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        DECIDE[rule](act, value.strip())


def _free_after(act: Act, value: str) -> None:
    if value and not (value.isascii() and value.isdigit() and 1 <= int(value) <= MOST_MINUTES):
        raise Refused(Code.FREE_AFTER, HouseRule.FREE_AFTER, most=MOST_MINUTES)
    minutes = int(value) if value else None
    before = act.house.settings.free_after
    settings.put(act.connection, free_after=minutes)
    act.record(Kind.FREEING_SET, minutes=minutes, before=before)


def _yes_or_no(setting: str, on: Kind, off: Kind) -> Callable[[Act, str], None]:
    """How something is decided that is so, or is not: from now on."""

    def decided(act: Act, value: str) -> None:
        settings.put(act.connection, **{setting: value == "yes"})
        act.record(on if value == "yes" else off)

    return decided


def _reminder_days(act: Act, value: str) -> None:
    parts = [part.strip() for part in value.replace(";", " ").split() if part.strip()]
    days = [int(part) for part in parts if part.isascii() and part.isdigit() and len(part) < 4]
    if len(days) < len(parts) or len(days) > MOST_REMINDERS or days != sorted(set(days)):
        raise Refused(Code.REMINDER_DAYS, HouseRule.REMINDER_DAYS, most=MOST_REMINDERS)
    settings.put(act.connection, reminder_days=" ".join(map(str, days)))
    act.record(Kind.REMINDER_DAYS, days=", ".join(map(str, days)))


def _language(act: Act, value: str) -> None:
    if value not in languages():
        raise Refused(Code.NO_SUCH_SETTING)
    before = act.house.settings.language
    settings.put(act.connection, language=value)
    act.record(Kind.LANGUAGE_SET, language=value, before=before)


def _idle(act: Act, value: str) -> None:
    if not (value.isascii() and value.isdigit() and 1 <= int(value[:4]) <= MOST_IDLE and len(value) < 4):
        raise Refused(Code.FREE_AFTER, HouseRule.IDLE, most=MOST_IDLE)
    before = act.house.settings.idle_minutes
    settings.put(act.connection, idle_minutes=int(value))
    act.record(Kind.IDLE_SET, minutes=int(value), before=before)


def _pay_out(act: Act, value: str) -> None:
    limit = read_amount(act.house.settings.currency, value, HouseRule.PAY_OUT)
    if limit < 0:
        raise Refused(Code.NEGATIVE_TOTAL, HouseRule.PAY_OUT)
    before = act.house.settings.pay_out_limit
    settings.put(act.connection, pay_out_limit=limit)
    act.record(Kind.PAY_OUT_LIMIT, amount=limit, before=before)


def _free_discount(act: Act, value: str) -> None:
    plain = value.replace(",", ".")
    percent, decimals = read_decimal(plain, HouseRule.FREE_DISCOUNT)
    if decimals > 2 or not 0 <= percent < 100:
        raise Refused(Code.FREE_DISCOUNT_RANGE, HouseRule.FREE_DISCOUNT)
    before = act.house.settings.free_discount
    settings.put(act.connection, free_discount=plain)
    act.record(Kind.FREE_DISCOUNT_SET, percent=plain, before=before)


def _names(value: str, rule: HouseRule, code: Code, most: int) -> list[str]:
    """Names with ; between them, no two the same."""
    wanted = [" ".join(name.split()) for name in value.split(";") if name.strip()]
    too_many = len(wanted) > most or len(set(wanted)) < len(wanted)
    if too_many or any(len(name) > LONGEST_ACCOUNT for name in wanted):
        raise Refused(code, rule, most=most, longest=LONGEST_ACCOUNT)
    return wanted


def _joined(names: list[str]) -> Personal | None:
    return Personal(", ".join(names)) if names else None


def _petty(act: Act, value: str) -> None:
    wanted = _names(value, HouseRule.PETTY, Code.PETTY_NAMES, MOST_CATEGORIES)
    before = petty_categories(act.house)
    till.put_petty_categories(act.connection, wanted)
    act.record(Kind.PETTY_CATEGORIES, names=_joined(wanted), before=_joined(before))


def _sold_from(act: Act, value: str) -> None:
    wanted = _names(value, HouseRule.SOLD_FROM, Code.ANONYMOUS_NAMES, MOST_ACCOUNTS)
    before = settings.anonymous_accounts(act.connection)
    settings.put_anonymous_accounts(act.connection, wanted)
    act.record(Kind.ANONYMOUS_ACCOUNTS, names=_joined(wanted), before=_joined(before))


def _legal(act: Act, value: str) -> None:
    """Name; country; tax number, as invoices have them."""
    name, country, number = ([" ".join(part.split()) for part in value.split(";")] + ["", "", ""])[:3]
    country = country.upper()
    if not name or len(name) > LONGEST_LEGAL or len(number) > LONGEST_LEGAL or not is_country(country):
        raise Refused(Code.LEGAL_NAME, HouseRule.LEGAL)
    settings.put(act.connection, legal_name=name, country=country, tax_number=number)
    act.record(Kind.LEGAL_NAME_SET, name=name, country=country, number=number)


def _jobs(act: Act, value: str) -> None:
    """Weekdays on which jobs are promised; after how many of them; apart after so many days; to go after so many."""
    parts = [part.split() for part in value.split(";")]
    said = [one for part in parts for one in part]
    numbers = [int(one) for one in said if one.isascii() and one.isdigit() and len(one) < LONG_DAYS]
    lengths = [len(part) for part in parts]
    if len(numbers) < len(said) or lengths[1:] != [1, 1, 1] or not set(map(str, parts[0])) <= set("1234567"):
        raise Refused(Code.JOB_DAYS, HouseRule.JOBS)
    days, (number, apart, gone) = sorted(set(map(str, parts[0]))), numbers[-3:]
    settings.put(act.connection, open_days=" ".join(days), job_days=number, uncollected_days=apart, disposal_days=gone)
    act.record(Kind.JOB_TERMS, days=", ".join(days), number=number, apart=apart, gone=gone)


DECIDE: dict[HouseRule, Callable[[Act, str], None]] = {
    HouseRule.FREE_AFTER: _free_after,
    HouseRule.SHOW_REMOVED: _yes_or_no("show_removed", Kind.REMOVED_SHOWN, Kind.REMOVED_LEFT_OUT),
    HouseRule.SIGN_CASH: _yes_or_no("sign_cash", Kind.CASH_SIGNED_FOR, Kind.CASH_NOT_SIGNED_FOR),
    HouseRule.MEMBERSHIPS_BACK: _yes_or_no("memberships_back", Kind.MEMBERSHIPS_BACK, Kind.MEMBERSHIPS_STAY),
    HouseRule.REMINDER_DAYS: _reminder_days,
    HouseRule.TAX_ON_ADVANCES: _yes_or_no("tax_on_advances", Kind.TAX_ON_ADVANCES, Kind.TAX_ON_SALES),
    HouseRule.EARLY_HIRES: _yes_or_no("early_hires_back", Kind.EARLY_HIRES_BACK, Kind.EARLY_HIRES_STAY),
    HouseRule.LEGAL: _legal,
    HouseRule.JOBS: _jobs,
    HouseRule.LANGUAGE: _language,
    HouseRule.SOLD_FROM: _sold_from,
    HouseRule.PETTY: _petty,
    HouseRule.IDLE: _idle,
    HouseRule.PAY_OUT: _pay_out,
    HouseRule.FREE_DISCOUNT: _free_discount,
}
