"""What must hold of the books at any moment: report, journal and the rows themselves agree to the cent, day by day."""

from __future__ import annotations

from collections import Counter

from abrazo.core.figures import FigureKind
from abrazo.core.layaway import KIND
from abrazo.core.ledger import OPENING, ROUNDING, SERVICE, Role, money_account, tax_account, tips_account
from abrazo.core.opening import BROUGHT
from abrazo.core.report import Report
from abrazo.core.states import Tender, TipsTo
from abrazo.core.till import expected_cash
from abrazo.desk.output.views.report import report_of
from abrazo.desk.overview.owed import owed
from abrazo.desk.till.views.till import drawer_of
from abrazo.store import journal, till, tip_pool
from tests.desk.conftest import Desk

MOVED = """
SELECT p.account, sum(p.amount) AS amount FROM posting p JOIN journal j ON j.number = p.entry WHERE j.day = ? GROUP BY 1
"""
TAKEN = "SELECT tender, sum(amount + tip) FROM payment WHERE day = ? GROUP BY 1"
BACK = "SELECT tender, sum(amount + tip) FROM payment WHERE back_day = ? GROUP BY 1"
REFUNDED = """
SELECT p.tender, sum(r.amount + r.rounding) FROM refund r JOIN payment p ON p.id = r.payment
WHERE r.day = ? AND r.state = 'done' AND r.deposit IS NULL GROUP BY 1
"""


def days_of(desk: Desk) -> list[int]:
    return [row[0] for row in desk.house.connection.execute("SELECT id FROM day ORDER BY id")]


def holds(desk: Desk) -> None:
    """Every day's report agrees with the journal's postings and with a sum made from the rows."""
    desk.house.forget()
    for day in days_of(desk):
        found = report_of(desk.house, [day])
        assert found.difference == 0, (day, found)
        _agrees_with_the_journal(desk, day, found)
        assert _tenders(found) == _from_rows(desk, day)
        tills = [report_of(desk.house, [day], till) for till in desk.house.tills()]
        for kind in FigureKind:
            assert sum(one.amount(kind) for one in tills) == found.amount(kind), kind
        shares = [one.tenths for one in found.groups]
        assert sum(shares) in (0, 1000)
    whole, found_day = report_of(desk.house, days_of(desk)), desk.house.open_day()
    open_day = found_day.id if found_day else 0
    assert whole.difference == 0
    _drawers(desk)
    dates = {till.business_date(desk.house.connection, day) for day in days_of(desk) if day != open_day}
    for date in ("", *sorted(dates)):  # also as it stood at the end of each closed day
        for one in owed(desk.house, desk.boss, date):
            assert one.amount == one.booked, (date, one)


def _drawers(desk: Desk) -> None:
    """Every drawer's account is what it should hold now, or what it was left with; floats follow from closes."""
    balances, open_day = journal.balances(desk.house.connection), desk.house.open_day()
    left = till.left_before(desk.house.connection, 2**62)
    for one in desk.house.tills():
        holds = expected_cash(drawer_of(desk.house, open_day.id, one)) if open_day else left.get(one, 0)
        assert balances.get(money_account("cash", one), 0) == holds, one
    before: dict[str, int | None] = {}
    for day in days_of(desk):
        for drawer in report_of(desk.house, [day]).drawers:
            assert drawer.expected == drawer.float_amount + drawer.all_in - drawer.all_out
            assert drawer.taken_over == (before.get(drawer.till) or 0)
            before[drawer.till] = drawer.left


def _agrees_with_the_journal(desk: Desk, day: int, found: Report) -> None:
    moved = Counter({row[0]: -row[1] for row in desk.house.connection.execute(MOVED, (day,))})
    taxes = Counter[str]()
    for one in (*found.of(FigureKind.TAX), *found.of(FigureKind.ADVANCE)):
        taxes[tax_account(one.name)] += one.amount
    assert Counter({one: amount for one, amount in taxes.items() if amount}) == _only(moved, "liabilities:tax:")
    tips = Counter[str]()
    for one in found.of(FigureKind.TIP):
        tips[tips_account(one.name)] += one.amount
    for paid in till.tips_paid_on(desk.house.connection, day):
        tips[tips_account(paid.person)] -= paid.amount
    for division in tip_pool.on_day(desk.house.connection, day):
        tips[tips_account(TipsTo.POOL)] -= division.amount
        for share in tip_pool.shares_of(desk.house.connection, division.id):
            tips[tips_account(share.person)] += share.amount
    assert Counter({one: amount for one, amount in tips.items() if amount}) == _only(moved, "liabilities:tips:")
    assert found.amount(FigureKind.ROUNDING) == moved[ROUNDING]
    given = found.amount(FigureKind.GIVEN)
    unpaid_tax = found.amount(FigureKind.ACCOUNT, "tax back")
    added = any(one.tax_added for one in found.days)
    contained = 0 if added else found.amount(FigureKind.TAX) + unpaid_tax
    sold = sum(amount for account, amount in moved.items() if account.startswith("income:sales:")) + moved[SERVICE]
    series = {one.name: one.amount for one in found.of(FigureKind.STORED) if one.detail == Role.SERIES}
    prepaid = moved["liabilities:series"] + series.get("used", 0) + series.get("expired", 0) - series.get(BROUGHT, 0)
    sales = found.amount(FigureKind.SALE) + found.amount(FigureKind.CHARGE) + series.get("sold", 0)
    assert sales == sold + given + contained + prepaid
    assert moved["income:series-expired"] == series.get("expired", 0)
    deposits = {one.name: one.amount for one in found.of(FigureKind.DEPOSIT)}
    kept = deposits.get("taken", 0) - sum(deposits.get(name, 0) for name in ("used", "given back", "kept"))
    aside = {one.name: one.amount for one in found.of(FigureKind.STORED) if one.detail == KIND}
    kept += aside.get("sold", 0) - aside.get("used", 0)
    ahead = moved["liabilities:deposits"] + moved["liabilities:layaways"]
    assert kept == ahead + found.amount(FigureKind.ADVANCE)
    for role in (Role.GIFT_CARD, Role.VOUCHER, Role.STORE_CREDIT):
        stored = {one.name: one.amount for one in found.of(FigureKind.STORED) if one.detail == role}
        account = {Role.GIFT_CARD: "gift-cards", Role.VOUCHER: "vouchers", Role.STORE_CREDIT: "store-credit"}[role]
        left = stored.get("sold", 0) + stored.get(BROUGHT, 0) - stored.get("used", 0) - stored.get("expired", 0)
        assert left == moved[f"liabilities:{account}"], role
    brought = [*found.of(FigureKind.STORED), *found.of(FigureKind.POINTS)]
    assert sum(one.amount for one in brought if one.name == BROUGHT) == -moved[OPENING]
    owed = {one.name: one.amount for one in found.of(FigureKind.ACCOUNT)}
    receivable = -sum(amount for account, amount in moved.items() if account.startswith("assets:receivables"))
    assert owed.get("put on", 0) - owed.get("received", 0) - owed.get("written off", 0) == receivable
    assert -moved["expenses:bad-debts"] == owed.get("written off", 0) - owed.get("tax back", 0)


def _only(moved: Counter[str], begins: str) -> Counter[str]:
    return Counter({account: amount for account, amount in moved.items() if account.startswith(begins) and amount})


def _tenders(found: Report) -> dict[str, int]:
    sums = Counter[str]()
    for one in found.of(FigureKind.TENDER):
        sums[one.name] += one.amount
    return {tender: amount for tender, amount in sums.items() if amount}


def _from_rows(desk: Desk, day: int) -> dict[str, int]:
    sums = Counter[str]()
    for sql, sign in ((TAKEN, 1), (BACK, -1), (REFUNDED, -1)):
        for tender, amount in desk.house.connection.execute(sql, (day,)):
            sums[Tender(tender) if tender in set(Tender) else tender] += sign * amount
    return {str(tender): amount for tender, amount in sums.items() if amount}
