"""Money stories in both houses: with tax contained, and with tax added in two parts."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Extra, FileKind, Source, TipsTo
from abrazo.core.tenders import cash_due
from abrazo.desk.doors import file_imports, jobs
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.doors.phone_orders import OrderForm, take_order_as_said
from abrazo.desk.doors.views.jobs import card_of, job_paper
from abrazo.desk.overview.owed import owed
from abrazo.desk.payments import closing, refunds, reopening, tenders, tips
from abrazo.desk.people import people
from abrazo.desk.tickets import adjustments, starting, ticket_lines
from abrazo.desk.tickets.adjustments import Wanted
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.starting import TicketOrigin
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.why import why_page
from abrazo.desk.till import business_day, counting, payouts, tip_pool, tips_paid
from abrazo.store import corrections, journal, outbox
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.refusals import refuses


def sale(desk: Desk, items: list[str], person: int | None = None) -> int:
    """A counter sale of some items."""
    number = starting.open_ticket(
        desk.house, desk.tamsin, TicketOrigin(Source.COUNTER, person), starting.Beginning(Kind.COUNTER_SALE), desk.key()
    )
    for item in items:
        ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked(item))
    return number


def pay(desk: Desk, number: int, *, close: bool = True) -> int:
    """All that is due in cash; gives the payment."""
    whole = desk.whole(number)
    payer = whole.payers[0].id
    due = cash_due(whole.payer_bill(payer).account.due, whole.ticket.cash_rounding)
    made = tenders.take_cash(
        desk.house, desk.tamsin, OnTicket(number, whole.head.version, desk.key()), payer, tenders.Sum(due), due
    )
    if close:
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    return made


def somebody(desk: Desk) -> int:
    phone = "+353 20 910 0199" if desk.of.till == "galley" else "+1 312 555 0199"
    return people.add_person(desk.house, desk.tamsin, {"name": "Petra Moe", "phone": phone}, desk.key())


def in_balance(desk: Desk) -> None:
    assert journal.unbalanced(desk.house.connection) == []
    assert (desk.charged(), desk.balance("")) == (desk.balance("assets:card"), 0)
    holds(desk)


def test_everything_bought_and_refunded_line_by_line_leaves_nothing(both: Desk) -> None:
    number = sale(both, [both.of.food, both.of.goods, both.of.goods])
    payment = pay(both, number)
    total = both.whole(number).bill.total
    for line in both.whole(number).standing:
        refunds.refund(
            both.house,
            both.boss,
            OnTicket(number, None, both.key()),
            refunds.RefundWanted(payment, None, [line.id]),
            "returned",
        )
    given = [refund.amount for refund in corrections.refunds_of(both.house.connection, number)]
    assert (sum(given), both.balance("liabilities:tax"), both.balance("income")) == (total, 0, 0)
    in_balance(both)


def test_a_line_is_refunded_once(both: Desk) -> None:
    number = sale(both, [both.of.food, both.of.goods])
    payment = pay(both, number)
    line = both.whole(number).standing[0].id
    refunds.refund(
        both.house, both.boss, OnTicket(number, None, both.key()), refunds.RefundWanted(payment, None, [line]), "cold"
    )
    for lines, code in (([line], Code.REFUNDED_ALREADY), ([both.whole(number).standing[1].id] * 2, Code.LINE_TWICE)):
        with pytest.raises(Refused) as refusal:
            refunds.refund(
                both.house,
                both.boss,
                OnTicket(number, None, both.key()),
                refunds.RefundWanted(payment, None, lines),
                "again",
            )
        assert refusal.value.code == code
    with refuses(r"can still go back|nothing is left"):
        refunds.refund(
            both.house,
            both.boss,
            OnTicket(number, None, both.key()),
            refunds.RefundWanted(payment, 100, [line]),
            "by amount",
        )
    assert len(corrections.refunds_of(both.house.connection, number)) == 1
    in_balance(both)


def test_what_the_machine_declined_can_be_refunded_again(both: Desk) -> None:
    number = sale(both, [both.of.food])
    whole = both.whole(number)
    payer, due = whole.payers[0].id, whole.bill.due
    tenders.ask_card(
        both.house,
        both.tamsin,
        OnTicket(number, whole.head.version, both.key()),
        payer,
        "card machine 1",
        tenders.Sum(due),
    )
    both.follow()
    closing.free_table(both.house, both.tamsin, OnTicket(number, None, both.key()))
    charge, line = both.whole(number).taken[0].id, both.whole(number).standing[0].id
    for told in ("decline", "approve"):
        both.tell(told)
        refunds.refund(
            both.house,
            both.boss,
            OnTicket(number, None, both.key()),
            refunds.RefundWanted(charge, None, [line]),
            "cold",
        )
        both.follow()
    states = [refund.state for refund in corrections.refunds_of(both.house.connection, number)]
    assert (states, both.charged(), both.balance("liabilities:tax")) == (["not done", "done"], 0, 0)
    in_balance(both)


def test_added_tax_is_in_what_a_job_comes_to(both: Desk) -> None:
    """A taxed and an untaxed task; the estimate, the message, the deposit's rest and the bill say the same."""
    who = somebody(both)
    date = both.clock.time.date().isoformat()
    drop = DropOff(who, "Dinghy, red", ((both.of.task, "1", ""), (both.of.work, "1", "")), date, "23:30", deposit=2000)
    job, visit = jobs.drop_off(both.house, both.tamsin, drop, None, both.key())
    pay(both, visit)
    card = card_of(both.house, jobs.read_job(both.house, job))
    taxed = {"galley": 10000, "yard": 8250 + 681 + 18900}[both.of.till]  # 8.25 % of 82.50 is 6.806
    assert (card.estimate, card.owed) == (taxed, taxed - 2000)
    jobs.mark(both.house, both.tamsin, job, "ready", both.key())
    (message,) = [one for one in outbox.latest(both.house.connection, 9) if one.device == outbox.MESSAGE]
    assert both.house.settings.currency.text(card.owed) in message.body
    number = jobs.settle(both.house, both.tamsin, [job], both.key())
    assert both.whole(number).bill.due == card.owed == jobs.owed(both.house, jobs.read_job(both.house, job))
    pay(both, number)
    paper, after = job_paper(both.house, job), card_of(both.house, jobs.read_job(both.house, job))
    assert (after.paid, after.came_to, after.owed, paper.rest) == (True, taxed, 0, "")
    assert paper.paid == both.house.settings.currency.text(taxed)
    in_balance(both)


def test_two_hand_overs_in_one_second_are_undone_one_by_one(both: Desk) -> None:
    who = somebody(both)
    date = both.clock.time.date().isoformat()
    drop = DropOff(who, "Oars", ((both.of.task, "3", "3"),), date, "23:30")
    job, visit = jobs.drop_off(both.house, both.tamsin, drop, None, both.key())
    closing.free_table(both.house, both.tamsin, OnTicket(visit, None, both.key()))
    task = jobs.read_job(both.house, job).tasks[0].id
    for _ in range(2):
        jobs.hand_out(both.house, both.tamsin, job, {task: 1}, "", both.key())
    first, second = (one.batch for one in jobs.read_job(both.house, job).handovers)
    assert first != second
    jobs.undo_hand_over(both.house, both.tamsin, job, second)
    assert [bool(one.undone_at) for one in jobs.read_job(both.house, job).handovers] == [False, True]
    with refuses("undone already"):
        jobs.undo_hand_over(both.house, both.tamsin, job, second)


def test_charges_bear_the_houses_own_tax_and_say_why(both: Desk) -> None:
    """A fixed surcharge and a delivery fee: no tax called `std` is needed, and their amounts are explained."""
    form = OrderForm("Petra", "delivery", phone="020 910 0199" if both.of.till == "galley" else "312 555 0199",
                     address="Slip 3", fee=400)  # fmt: skip
    number = take_order_as_said(both.house, both.tamsin, form, both.key())
    ticket_lines.add_line(both.house, both.tamsin, OnTicket(number, None, both.key()), Picked(both.of.food))
    given = Wanted("surcharge", both.of.surcharge)
    adjustments.give(both.house, both.tamsin, both.on(number), None, given)
    whole = both.whole(number)
    assert {charge.tax for charge in whole.ticket.charges} == {both.of.item_tax}
    page = why_page(both.house, number)
    fixed = [(one.percent, one.amount) for one in page.why.charges]
    assert fixed == [(None, 400), (None, {"galley": 600, "yard": 2500}[both.of.till])]
    if both.of.till == "yard":
        (tax,) = whole.bill.taxes
        assert (tax.base, tax.tax, tax.parts) == (3450, 285, (("State 6.25 %", 216), ("Town 2 %", 69)))
    pay(both, number)
    in_balance(both)


@pytest.mark.parametrize("extra", list(Extra))
@pytest.mark.parametrize("paid_before", [0, 300])
def test_a_card_is_charged_more_than_is_due(both: Desk, extra: Extra, paid_before: int) -> None:
    number = sale(both, [both.of.food, both.of.goods], somebody(both))
    payer = both.whole(number).payers[0].id
    if paid_before:
        version = both.version(number)
        tenders.take_cash(
            both.house, both.tamsin, OnTicket(number, version, both.key()), payer, tenders.Sum(paid_before), paid_before
        )
    due = both.whole(number).bill.due
    tenders.ask_card(both.house, both.tamsin, both.on(number), payer, "card machine 1", tenders.Sum(due + 250, extra))
    both.follow()
    account = both.whole(number).payer_bill(payer).account
    assert (account.due, account.tip, account.credit) == ((0, 250, 0) if extra == Extra.TIP else (0, 0, 250))
    assert both.charged() == due + 250
    closing.free_table(both.house, both.tamsin, OnTicket(number, None, both.key()))
    assert (both.balance("liabilities:tips"), both.balance("liabilities:store-credit")) == (
        (-250, 0) if extra == Extra.TIP else (0, -250)
    )
    in_balance(both)


def test_what_is_due_cannot_be_charged_and_lowered_at_once(both: Desk) -> None:
    """While a charge of all that is due runs, a line that it pays for stays."""
    number = sale(both, [both.of.food, both.of.goods], somebody(both))
    whole = both.whole(number)
    payer, due = whole.payers[0].id, whole.bill.due
    tenders.ask_card(
        both.house, both.tamsin, both.on(number), payer, "card machine 1", tenders.Sum(due + 250, Extra.TIP)
    )
    with pytest.raises(Refused) as refusal:
        ticket_lines.remove_line(both.house, both.tamsin, both.on(number), whole.standing[0].id)
    assert refusal.value.code == Code.BEING_CHARGED
    both.follow()
    in_balance(both)


def test_a_past_ticket_is_opened_again_and_closed_on_the_same_figures(both: Desk) -> None:
    number = sale(both, [both.of.food, both.of.goods])
    pay(both, number)
    books = journal.balances(both.house.connection)
    reopening.reopen(both.house, both.boss, OnTicket(number, None, both.key()), "wrong tender")
    both.clock.on(int(timedelta(minutes=3).total_seconds()))
    closing.free_table(both.house, both.boss, OnTicket(number, None, both.key()))
    assert {k: v for k, v in journal.balances(both.house.connection).items() if v} == {
        k: v for k, v in books.items() if v
    }
    in_balance(both)


def test_a_day_with_a_divided_pool_a_payout_and_a_file_is_closed_and_looked_back_at(both: Desk) -> None:
    """Tips of a card into the pool, divided and paid out; the charge arrives less its fee; what was owed is kept."""
    house, boss = both.house, both.boss
    tips.share_tips(house, boss, TipsTo.POOL)
    number = sale(both, [both.of.food, both.of.goods], somebody(both))
    whole = both.whole(number)
    due, payer = whole.bill.due, whole.payers[0].id
    on = OnTicket(number, whole.head.version, both.key())
    tenders.ask_card(house, both.tamsin, on, payer, "card machine 1", tenders.Sum(due + 700, Extra.TIP))
    both.follow()
    closing.free_table(house, both.tamsin, OnTicket(number, None, both.key()))
    first, second = list(house.staff())[:2]
    tip_pool.divide(house, boss, tip_pool.Division("points", {first: "2", second: "1"}, 700), both.key())
    assert {one: left for one, _, left in tips_paid.owed_tips(house)} == {first: 467, second: 233}
    tips_paid.pay_tips(house, boss, first, 467, both.key())
    charged = due + 700
    payouts.receive_payout(house, boss, "card machine 1", (charged - 51, 50), both.key())  # one cent waits on
    assert (both.balance("assets:card"), both.balance("expenses:fees")) == (1, 50)
    phone = "020 910 0300" if both.of.till == "galley" else "(312) 555-0300"
    data = f"name,phone\nAda Brekke,{phone}\n".encode()
    file = file_imports.hand_in(house, boss, FileKind.PEOPLE, (data, "a.csv"), both.key())
    assert file_imports.read_next(house, lambda work, *given: work(*given))
    assert file_imports.standing(house, file).file.added == 1
    counting.count_drawer(house, both.tamsin, counting.Counted(total=15000 - 467), both.key())
    date = house.day().business_date
    business_day.close_day(house, boss, both.key())
    holds(both)
    with pytest.raises(Refused) as refusal:
        payouts.receive_payout(house, boss, "card machine 1", (1, 0), both.key())
    assert refusal.value.code == Code.NO_DAY
    assert [one.amount for one in owed(house, boss, date)] == [one.booked for one in owed(house, boss)]
