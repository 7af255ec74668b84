"""What is left unpaid on an account: a receivable until it is paid, only for who has one."""

from __future__ import annotations

from abrazo.core.journal import Kind
from abrazo.core.states import Source, TicketStanding
from abrazo.desk.doors import jobs
from abrazo.desk.doors.views.jobs import rack
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.guest_display import display_of
from abrazo.desk.overview.queue import queue
from abrazo.desk.overview.room import open_tickets
from abrazo.desk.payments import accounts, closing, tenders, tips
from abrazo.desk.payments.views import pay_pad
from abrazo.desk.payments.views.settlement import balance_words, closed_words, settlement
from abrazo.desk.people import people
from abrazo.desk.people.people import known
from abrazo.desk.tickets import customer, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.views.ticket_status import state_of
from tests.desk.conftest import Desk
from tests.desk.scenes import dropped, pay, person, wren
from tests.refusals import refuses


def job_ticket(desk: Desk, who: int) -> tuple[int, int]:
    number = jobs.settle(desk.house, wren(desk), [dropped(desk, who)[0]], desk.key())
    return number, desk.whole(number).payers[0].id


def put(desk: Desk, number: int, payer: int, amount: int, key: str = "") -> int:
    version = desk.version(number)
    return accounts.put_on_account(
        desk.house, wren(desk), OnTicket(number, version, key or desk.key()), payer, accounts.Leave(amount)
    )


def test_left_unpaid_then_paid_in_parts(desk: Desk) -> None:
    who = person(desk, "Saltpan Rowers", company="yes")
    number, payer = job_ticket(desk, who)
    assert (
        len(
            {put(desk, number, payer, 4200, "the same key") for _ in range(1)}
            | {put(desk, number, payer, 4200, "the same key")}
        )
        == 1
    )
    closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))

    def owed() -> int:
        return accounts.owed_by(desk.house, known(desk.house, who))

    assert (owed(), desk.cash()) == (4200, 0)
    for amount, left, said in (
        (1200, 3000, "owes €30.00"),
        (3000, 0, "owes nothing"),
        (2000, -2000, "has €20.00 paid ahead"),
    ):
        number = accounts.receive(desk.house, wren(desk), who, amount, desk.key())
        payer = desk.whole(number).payers[0].id
        assert not receipt_of(desk.house, desk.whole(number), payer).blocks  # a bill that is still to be paid
        now = accounts.paying(desk.house, known(desk.house, who))
        assert ([(one.ticket, one.amount) for one in now.tickets], now.rest) == ([(number, amount)], max(left, 0))
        tenders.take_cash(desk.house, wren(desk), desk.on(number), payer, tenders.Sum(amount), amount)
        for _ in range(2):  # paid, and closed too
            found = settlement(desk.house, desk.whole(number))
            assert (found.owes, said in balance_words(desk.house, found)) == (left, True)
            (block,) = receipt_of(desk.house, desk.whole(number), payer).blocks
            assert said in " ".join(block)
            if desk.whole(number).head.state == "open":
                closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))
        assert said in closed_words(desk.house, desk.whole(number))
        assert owed() == left
    assert (desk.cash("landing"), desk.balance("income:sales"), desk.balance("")) == (6200, -3500, 0)


def test_what_is_put_on_account_is_not_called_paid(desk: Desk) -> None:
    """On the end page, beside the payer, for the guests, on the receipt, in the queue, at closing: the same figures."""
    who = person(desk, "Saltpan Rowers", company="yes")
    number, payer = job_ticket(desk, who)
    tenders.take_cash(desk.house, wren(desk), desk.on(number), payer, tenders.Sum(1200), 2000)
    put(desk, number, payer, 3000)
    whole = desk.whole(number)
    settled = settlement(desk.house, whole)
    assert (settled.taken, settled.on_account, settled.owes) == (1200, 3000, 3000)
    assert settled.taken + settled.on_account == whole.bill.paid
    assert state_of(desk.house, whole) == TicketStanding.SETTLED
    shown = display_of(desk.house, "landing")
    assert (shown.paid, shown.on_account, shown.due) == (1200, 3000, 0)
    (block,) = [one for one in receipt_of(desk.house, whole, payer).blocks if "owes" in one[0]]
    assert block == ("Saltpan Rowers owes €30.00 on account at", "Sat 13 Jun, 14:20")
    cards = queue(desk.house, wren(desk), open_tickets(desk.house), rack(desk.house))[0]
    assert "Settled, €30.00 of it on account" in [card.reason for card in cards if card.ticket == number]
    closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))
    said = closed_words(desk.house, desk.whole(number))
    assert said.endswith("€12.00 taken, €30.00 put on Saltpan Rowers's account, who owes €30.00 now.")


def test_taken_back_it_is_owed_on_the_ticket_again(desk: Desk) -> None:
    number, payer = job_ticket(desk, person(desk, "Saltpan Rowers", company="yes"))
    made = put(desk, number, payer, 2000)
    tenders.take_back(desk.house, wren(desk), desk.on(number), made)
    assert (desk.whole(number).bill.due, desk.balance("assets:receivables")) == (4200, 0)


def test_who_has_no_account(desk: Desk) -> None:
    number, payer = job_ticket(desk, person(desk, "Theo"))
    with refuses("has no account"):
        put(desk, number, payer, 4200)
    nameless = starting.open_counter(desk.house, wren(desk), desk.key())
    with refuses("without a person"):
        put(desk, nameless, desk.whole(nameless).payers[0].id, 100)
    with refuses("More than 0"):
        accounts.receive(desk.house, wren(desk), 1, 0, desk.key())
    assert desk.balance("assets:receivables") == 0


def test_invoices_are_added_to_a_ticket_one_or_all(desk: Desk) -> None:
    """Somebody with an account who is no company: two invoices, one chosen, the rest by any amount."""
    typed = {"name": "Theo Brandvold", "account": "yes"}
    who = people.add_person(desk.house, wren(desk), typed, desk.key())
    for _ in range(3):
        number, payer = job_ticket(desk, who)
        put(desk, number, payer, 4200)
        closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))
        desk.clock.on(86_400)

    def owed() -> list[tuple[int, bool, bool]]:
        found = accounts.open_invoices(desk.house, known(desk.house, who))
        return [(one.left, one.late, one.pending) for one in found]

    assert owed() == [(4200, False, False)] * 3
    assert accounts.due_invoices(desk.house) == []
    second = accounts.open_invoices(desk.house, known(desk.house, who))[1].payment
    visit = starting.open_ticket(
        desk.house,
        wren(desk),
        starting.TicketOrigin(Source.COUNTER, who, "Theo"),
        starting.Beginning(Kind.COUNTER_SALE),
        desk.key(),
    )
    key = desk.key()
    for _ in range(2):
        accounts.add_invoices(desk.house, wren(desk), desk.on(visit, key), [second])
    assert (desk.whole(visit).bill.total, owed()[1]) == (4200, (4200, False, True))
    with refuses("open ticket already"):
        accounts.receive_invoices(desk.house, wren(desk), who, [second], desk.key())
    with refuses("leaving it unpaid"):
        put(desk, visit, desk.whole(visit).payers[0].id, 4200)
    pay(desk, visit)
    assert owed() == [(4200, False, False), (4200, False, False)]
    pay(desk, accounts.receive(desk.house, wren(desk), who, 5000, desk.key()))  # the oldest first, then the next
    assert owed() == [(3400, False, False)]
    desk.clock.on(8 * 86_400)
    assert [(person.id, [one.left for one in late]) for person, late in accounts.due_invoices(desk.house)] == [
        (who, [3400])
    ]
    due = accounts.due_invoices(desk.house)[0][1][0].payment
    pay(desk, accounts.receive_invoices(desk.house, wren(desk), who, [due], desk.key()))
    assert (owed(), desk.balance("assets:receivables"), desk.balance("")) == ([], 0, 0)


def test_a_tip_in_percent_is_of_this_bill_and_not_of_an_old_debt(desk: Desk) -> None:
    who = person(desk, "Saltpan Rowers", company="yes")
    number, payer = job_ticket(desk, who)
    put(desk, number, payer, 4200)
    closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))
    visit = customer.open_sale(desk.house, wren(desk), who, desk.key())
    ticket_lines.add_unlisted(desk.house, wren(desk), desk.on(visit), "Cleat", 2000, "shop")
    invoice = accounts.open_invoices(desk.house, known(desk.house, who))[0].payment
    accounts.add_invoices(desk.house, wren(desk), desk.on(visit), [invoice])
    whole = desk.whole(visit)
    one = whole.payers[0].id
    pad = pay_pad.pay_pad(desk.house, wren(desk), whole, one, pay_pad.Typed())
    assert (whole.bill.due, [(tip.percent, tip.amount) for tip in pad.tips]) == (
        6200, [("", 0), ("5", 100), ("10", 200), ("15", 300)]
    )  # fmt: skip
    tips.set_tip(desk.house, wren(desk), desk.on(visit), one, tips.TipWanted(percent="10"))
    assert desk.whole(visit).bill.due == 6400
