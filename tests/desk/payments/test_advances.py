"""Tax on deposits when they are received, or with the sale: the same tax in all, in either house, on any way."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.core.figures import FigureKind
from abrazo.core.journal import Kind
from abrazo.desk.doors import booking_changes, bookings
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.output.views.report import report_of
from abrazo.desk.overview.owed import owed
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import closing, deposits, refunds, reopening, set_aside, tenders
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_booking
from abrazo.store import journal
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.doors.test_booking_changes import booked, left_a_deposit, read, terms
from tests.desk.test_both_houses import pay, sale, somebody


def decided(desk: Desk, *, received: bool = True) -> None:
    house_settings.decide(desk.house, desk.boss, "tax_on_advances", "yes" if received else "no")
    desk.house.forget()


def taxes(desk: Desk) -> int:
    """All tax that is owed by the books, minor units."""
    found = journal.balances(desk.house.connection)
    return -sum(amount for account, amount in found.items() if account.startswith("liabilities:tax:"))


def checked(desk: Desk) -> None:
    holds(desk)
    assert not soundness(desk.house)
    assert all(kind.amount == kind.booked for kind in owed(desk.house, desk.boss))


def held(desk: Desk, deposit: int = 2000) -> tuple[int, int]:
    """A booking with its deposit; gives it and the ticket."""
    terms(desk, deposit)
    one = booked(desk)
    return one, left_a_deposit(desk, one)


def settled(desk: Desk, booking: int) -> int:
    ticket = bookings.check_out(desk.house, desk.tamsin, [booking], desk.key())
    pay(desk, ticket)
    return ticket


def test_received_ahead_and_used(both: Desk) -> None:
    plain_one, _ = held(both)
    assert taxes(both) == 0  # owed with the sale
    settled(both, plain_one)
    plain = taxes(both)
    decided(both)
    booking = booked(both, "11:00", days=8)
    ticket = left_a_deposit(both, booking)
    ahead = taxes(both) - plain
    assert ahead > 0
    checked(both)
    receipt = receipt_of(both.house, both.whole(ticket), both.whole(ticket).payers[0].id)
    assert both.house.settings.currency.text(ahead) in [amount for _, amount in receipt.taxes]
    sale = settled(both, booking)
    assert taxes(both) == 2 * plain  # the same in all, however it was owed
    figures = {one.detail: one.amount for one in report_of(both.house, [both.house.day().id]).of(FigureKind.ADVANCE)}
    assert figures == {"received": ahead, "used": -ahead}
    checked(both)
    reopening.reopen(both.house, both.boss, OnTicket(sale, None, both.key()), "forgot one")
    assert taxes(both) == plain + ahead  # held again while it is open
    both.house.forget()
    closing.free_table(both.house, both.tamsin, OnTicket(sale, None, both.key()))
    assert taxes(both) == 2 * plain
    checked(both)


@pytest.mark.parametrize("way", ["back", "kept", "reopened", "void", "refunded"])
def test_what_is_not_used_takes_its_tax_along(both: Desk, way: str) -> None:
    decided(both)
    booking, ticket = held(both)
    ahead = taxes(both)
    assert ahead > 0
    thing = of_booking(both.house, read(both, booking))
    if way in ("back", "kept"):
        booking_changes.cancel(both.house, both.tamsin, booking, "ill", both.key())
        thing = of_booking(both.house, read(both, booking))
        if way == "back":
            deposits.give_back(both.house, both.tamsin, thing, both.key())
        else:
            deposits.keep(both.house, both.boss, thing, "our terms", both.key())
    elif way == "reopened":
        reopening.reopen(both.house, both.boss, OnTicket(ticket, None, both.key()), "wrong guest")
    elif way == "void":
        reopening.void(both.house, both.boss, OnTicket(ticket, None, both.key()), "wrong guest")
    else:
        whole = both.whole(ticket)
        line = whole.standing[0].id
        wanted = refunds.RefundWanted(whole.taken[0].id, None, (line,))
        refunds.refund(both.house, both.boss, OnTicket(ticket, None, both.key()), wanted, "too much")
    assert taxes(both) == 0
    if way != "reopened":
        checked(both)


def test_the_house_decides_otherwise_meanwhile(both: Desk) -> None:
    before, _ = held(both)
    decided(both)
    assert taxes(both) == 0  # what is held stays as it was received
    booking = booked(both, "11:00", days=8)
    left_a_deposit(both, booking)
    ahead = taxes(both)
    decided(both, received=False)
    assert taxes(both) == ahead
    settled(both, booking)
    one = taxes(both)
    settled(both, before)
    assert taxes(both) == 2 * one
    checked(both)
    with pytest.raises(Refused):
        house_settings.decide(both.house, both.tamsin, "tax_on_advances", "yes")
    assert (
        both.house.connection.execute("SELECT count(*) FROM journal WHERE kind = ?", (Kind.ADVANCE_TAX,)).fetchone()[0]
        == 2
    )  # received, and used


def test_what_was_received_before_stays_untaxed_however_it_is_used(both: Desk) -> None:
    """A deposit above the bill is used in part, its sale is opened again, and the rest goes back: no tax on it ever."""
    before, _ = held(both, 30_000)
    decided(both)
    sale = bookings.check_out(both.house, both.tamsin, [before], both.key())
    closing.free_table(both.house, both.tamsin, OnTicket(sale, None, both.key()))
    whole = taxes(both)
    assert whole == both.whole(sale).bill.tax_total  # the sale's alone, though some of the deposit is still held
    reopening.reopen(both.house, both.boss, OnTicket(sale, None, both.key()), "forgot one")
    assert taxes(both) == 0
    closing.free_table(both.house, both.tamsin, OnTicket(sale, None, both.key()))
    assert taxes(both) == whole
    deposits.give_back(both.house, both.tamsin, of_booking(both.house, read(both, before)), both.key())
    assert taxes(both) == whole
    checked(both)


@pytest.mark.parametrize("end", ["handed over", "taken back", "cancelled"])
def test_goods_set_aside_owe_tax_as_they_are_paid(both: Desk, end: str) -> None:
    """The same tax in all, however it is owed; what goes back takes its tax along."""
    decided(both)
    number = sale(both, [both.of.goods, both.of.food], somebody(both))
    all_tax = both.whole(number).bill.tax_total
    part(both, number, both.whole(number).bill.total // 2)
    until = set_aside.terms_for(both.house, both.whole(number)).until
    set_aside.set_aside(both.house, both.tamsin, both.on(number), until)
    ahead = taxes(both)
    assert abs(2 * ahead - all_tax) <= 2
    checked(both)
    part(both, number, both.whole(number).bill.due)
    assert taxes(both) == all_tax
    checked(both)
    if end == "handed over":
        closing.free_table(both.house, both.tamsin, both.on(number))
        assert taxes(both) == all_tax == both.whole(number).bill.tax_total
    elif end == "taken back":
        tenders.take_back(both.house, both.boss, both.on(number), both.whole(number).taken[0].id)
        assert abs(taxes(both) + ahead - all_tax) <= 2
    else:
        set_aside.cancel(both.house, both.boss, both.on(number))
        assert taxes(both) == both.whole(number).bill.tax_total  # that of the fee
    if end != "cancelled":
        figures = report_of(both.house, [both.house.day().id]).of(FigureKind.ADVANCE)
        assert sum(one.amount for one in figures if one.detail == "received") == all_tax
    checked(both)


def part(desk: Desk, number: int, amount: int) -> None:
    payer = desk.whole(number).payers[0].id
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(amount), amount)
