"""A week of mixed business, made up by chance: every day closes with its books in balance, read by another program."""

from __future__ import annotations

import random
from decimal import Decimal

import pytest

from abrazo.core.errors import Refused
from abrazo.core.journal import chain_faults
from abrazo.core.states import FloatDifference
from abrazo.core.tenders import cash_due
from abrazo.desk.context import Actor
from abrazo.desk.doors import bookings, jobs, tabs
from abrazo.desk.output.views.report import day_report
from abrazo.desk.payments import accounts, card_poller, closing, deposits, refunds, reopening, tenders
from abrazo.desk.payments.holds import held_for
from abrazo.desk.people.people import known
from abrazo.desk.tickets import moving, sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till import business_day, counting, opening, petty_cash
from abrazo.desk.till.views.journal import day_journal
from abrazo.desk.till.views.till import till_page
from abrazo.formats.day_report import day_report_text
from abrazo.formats.journal import account_name
from abrazo.store import deposits as kept_deposits
from abrazo.store import figures, journal
from abrazo.store import ticket as ticket_store
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.scenes import booked, dropped, person, tab, thing, wren
from tests.formats.test_journal import read_by_another

GOODS = ("apple-juice", "lemon-posset", "bottle-of-cider", "sun-hat", "tide-tables", "kelp-soap")


def pick(desk: Desk, chance: random.Random, number: int) -> None:
    for _ in range(chance.randint(1, 4)):
        guests = tuple(g.letter for g in desk.whole(number).guests if chance.random() < 0.4)
        ticket_lines.add_line(
            desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked(chance.choice(GOODS), "1", (), guests)
        )


def settle(desk: Desk, chance: random.Random, number: int, who: Actor) -> None:
    """Everybody pays, by whatever they have; some take it back and do it again."""
    for _ in range(40):
        whole = desk.whole(number)
        owing = [p for p in whole.payers if whole.payer_bill(p.id).account.due > 0]
        if not owing:
            break
        payer, version = owing[0].id, whole.head.version
        account, hold = whole.payer_bill(payer).account, held_for(desk.house, number)
        how = chance.random()
        if hold and how < 0.5:
            tabs.charge_held(desk.house, who, OnTicket(number, version, desk.key()), payer, hold.id, account.due)
            desk.follow()
        elif how < 0.6 and cash_due(account.due, 5):
            due = cash_due(account.due, 5)
            made = tenders.take_cash(
                desk.house, who, OnTicket(number, version, desk.key()), payer, tenders.Sum(due), -(-due // 1000) * 1000
            )
            if how < 0.1:
                tenders.take_back(desk.house, who, desk.on(number), made)
        else:
            desk.tell(
                chance.choice(["approve", "approve", "approve", "decline", "silent, charged"]),
                tip=chance.choice([0, 10]),
            )
            reference = tenders.ask_card(
                desk.house, who, OnTicket(number, version, desk.key()), payer, MACHINE, tenders.Sum(account.due)
            )
            desk.follow()
            desk.tell()
            card_poller.ask_again(desk.house, who, number, reference)
    hold = held_for(desk.house, number)
    if hold:
        tabs.let_go(desk.house, who, OnTicket(number, None, desk.key()), hold.id)
        desk.follow()
    closing.free_table(desk.house, who, OnTicket(number, None, desk.key()))


def a_day(desk: Desk, chance: random.Random, people: list[int], left: list[int]) -> None:
    """Tables, counter sales, tabs, bookings, jobs in and out, an account, ice from the drawer."""
    clerk = wren(desk)
    for spot in chance.sample(["D1", "D3", "D5", "G1", "G2", "G4"], 3):
        number = starting.seat(desk.house, desk.tamsin, spot, chance.randint(1, 8), desk.key())
        pick(desk, chance, number)
        if len(desk.whole(number).guests) > 1 and chance.random() < 0.6:
            sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
        settle(desk, chance, number, desk.tamsin)
    bar, sale = (
        tab(desk, "Ro", chance.choice([0, 1000, 6000])),
        starting.open_counter(desk.house, desk.jory, desk.key()),
    )
    pick(desk, chance, bar)
    pick(desk, chance, sale)
    if chance.random() < 0.5:
        moving.merge(desk.house, desk.jory, desk.on(sale), bar)
    else:
        settle(desk, chance, sale, desk.jory)
    settle(desk, chance, bar, desk.jory)
    settle(desk, chance, bookings.check_out(desk.house, clerk, [booked(desk, "Petra Moe")], desk.key()), clerk)
    left.append(
        dropped(desk, chance.choice(people), chance.choice([0, 1000, 5000]), "neck-seal:1 off-cuts-of-sailcloth:0.35")[
            0
        ]
    )
    while left and chance.random() < 0.6:
        job = left.pop(chance.randrange(len(left)))
        number = jobs.settle(desk.house, clerk, [job], desk.key())
        if sum(d.amount for d in kept_deposits.held(desk.house.connection, job)):
            deposits.give_back(desk.house, clerk, thing(desk, job), desk.key())
        settle(desk, chance, number, clerk)
        jobs.hand_out(desk.house, clerk, job, None, "", desk.key())
    rowers = people[-1]
    number = jobs.settle(desk.house, clerk, [dropped(desk, rowers)[0]], desk.key())
    whole = desk.whole(number)
    accounts.put_on_account(
        desk.house,
        clerk,
        OnTicket(number, whole.head.version, desk.key()),
        whole.payers[0].id,
        accounts.Leave(whole.bill.due),
    )
    closing.free_table(desk.house, clerk, OnTicket(number, None, desk.key()))
    if chance.random() < 0.5:
        settle(desk, chance, accounts.receive(desk.house, clerk, rowers, 2500, desk.key()), clerk)
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("out", 350, "ice", "next door"), desk.key())


CLOSED_BEFORE = "SELECT id FROM ticket WHERE state = 'closed' AND day < ? ORDER BY id"


def figures_text(desk: Desk, day: int) -> str:
    """The paper of a day, but for what was corrected later."""
    return day_report_text(day_report(desk.house, day)).partition("Corrected later")[0].rstrip("-\n")


def correct(desk: Desk, chance: random.Random, number: int, boss: Actor) -> bool:
    """Something of an earlier day is refunded, made void, or opened again and paid in cash; False when refused."""
    on = OnTicket(number, None, desk.key())
    try:
        whole, how = desk.whole(number), chance.choice(["refund", "refund", "void", "reopen"])
        if not whole.taken:  # nothing was paid on it
            return False
        if how == "refund":
            payment = chance.choice(whole.taken)
            lines = [line.id for line in whole.standing if line.is_sale][: chance.choice([0, 1, 2])]
            some = chance.choice([None, 100, 233]) if lines else 150
            refunds.refund(desk.house, boss, on, refunds.RefundWanted(payment.id, some, lines), "cold")
        elif how == "void":
            reopening.void(desk.house, boss, on, "wrong table")
        else:
            reopening.reopen(
                desk.house, boss, on, "wrong tender", whole.taken[0].id if whole.taken[0].recorded else None
            )
    except Refused:
        return False
    desk.follow()
    for _ in range(3):
        desk.settle_unknown(number)
        if desk.whole(number).head.voiding_at and desk.whole(number).head.state == "open":
            reopening.go_on_voiding(desk.house, boss, number)
            desk.follow()
    if desk.whole(number).head.state == "open":
        settle(desk, chance, number, desk.jory)
    return True


@pytest.mark.parametrize("seed", [1, 2])
def test_a_week_closes_in_balance(desk: Desk, seed: int) -> None:
    """Outside: beancount reads the week's journal without complaint and has our balances."""
    chance = random.Random(seed)
    odile = Actor(desk.house.staff()["odile"], desk.house.tills()["galley"])
    people = [person(desk, name) for name in ("Petra Moe", "Teun Abara")] + [
        person(desk, "Saltpan Rowers", company="yes")
    ]
    left: list[int] = []
    sealed: dict[int, tuple[dict[int, str], str]] = {}
    for _ in range(7):
        a_day(desk, chance, people, left)
        closed = [row[0] for row in desk.house.connection.execute(CLOSED_BEFORE, (desk.house.day().id,))]
        for number in chance.sample(closed, min(len(closed), 12)):
            correct(desk, chance, number, odile)
        assert ticket_store.list_open(desk.house.connection) == []
        assert journal.unbalanced(desk.house.connection) == []
        holds(desk)
        assert chain_faults(journal.chain(desk.house.connection)) == []
        assert desk.balance("liabilities:open-tickets") == desk.balance("assets:held-on-cards") == 0
        assert desk.balance("assets:card:") == desk.charged()
        over = chance.choice([0, 0, -150, 20])
        for one in desk.house.tills().values():
            actor = Actor(desk.jory.staff, one)
            counting.count_drawer(
                desk.house, actor, counting.Counted({}, till_page(desk.house, one).expected + over), desk.key()
            )
        banked = {one: chance.choice([0, 2000]) for one in desk.house.tills()}
        day = business_day.close_day(desk.house, odile, desk.key(), banked)
        assert ("Agrees" if not over else "Over" if over > 0 else "Short") in day_report_text(
            day_report(desk.house, day)
        )
        sealed[day] = figures.sealed(desk.house.connection, [day]), figures_text(desk, day)
        desk.clock.on(24 * 3600)
        floats = {
            one: opening.Float(chance.choice([10000, 15000]), why=chance.choice(list(FloatDifference)[1:]))
            for one in desk.house.tills()
        }
        opening.open_day(desk.house, odile, floats, desk.key())
    for day, before in sealed.items():
        assert (figures.sealed(desk.house.connection, [day]), figures_text(desk, day)) == before
    holds(desk)
    everything = [row[0] for row in desk.house.connection.execute("SELECT id FROM job")]
    owed = sum(d.amount for job in everything for d in kept_deposits.held(desk.house.connection, job))
    assert desk.balance("liabilities:deposits") == -owed
    assert desk.balance("assets:receivables") == accounts.owed_by(
        desk.house, next(p for p in [known(desk.house, people[-1])])
    )
    found, ours = read_by_another(day_journal(desk.house)), journal.balances(desk.house.connection)
    assert found == {account_name(account): Decimal(amount) / 100 for account, amount in ours.items()}
    assert len(ours) > 20 and sum(found.values()) == 0
