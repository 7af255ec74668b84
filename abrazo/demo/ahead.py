"""What was paid ahead, or left unpaid, in the ninety days before the Saturday, played through the desk on its days."""

from __future__ import annotations

from datetime import date

from abrazo.demo.people import ACCOUNTS
from abrazo.demo.story import Story
from abrazo.desk.output import statement_runs
from abrazo.desk.output.outbox import send_waiting
from abrazo.desk.payments import accounts, closing, set_aside, tenders
from abrazo.desk.people.people import known
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked

# so many days before the Saturday: who has which items
VISITS: dict[int, tuple[tuple[str, str], ...]] = {
    84: (("Marguerite Oyelaran", "five-paddles"),),
    77: (("Signe Amari", "five-paddles first-paddle"),),
    70: (("Marguerite Oyelaran", "first-paddle"),),
    56: (("Signe Amari", "skiff-lesson wetsuit"),),
    49: (("Teun Abara", "five-paddles"),),
    42: (("Signe Amari", "first-paddle"), ("Teun Abara", "first-paddle")),
    28: (("Signe Amari", "first-paddle"),),
    21: (
        ("Marguerite Oyelaran", "skiff-lesson"),
        ("Signe Amari", "skiff-lesson"),
    ),
    14: (("Kees Tarrant", "five-paddles first-paddle"),),
}
ASIDE = (("Edda", 35, "sun-hat dry-bag-m-teal", 3000), ("Dorte Vance", 70, "dry-bag-l-red", 800))

# so many days before the Saturday: who left which items unpaid on account, and who paid how much (None: all of it)
ON_ACCOUNT = {
    80: ("Saltpan Rowers", "dry-bag-m-teal dry-bag-l-red"),
    68: ("Kees Tarrant", "skiff-lesson skiff-lesson"),
    47: ("Saltpan Rowers", "kelp-soap enamel-mug enamel-mug"),
    36: ("Kees Tarrant", "first-paddle"),
    16: ("Saltpan Rowers", "paddle-leash paddle-leash"),
}
RECEIVED: dict[int, tuple[str, int | None]] = {
    55: ("Saltpan Rowers", None),
    29: ("Kees Tarrant", 4000),
    19: ("Saltpan Rowers", None),
    9: ("Saltpan Rowers", None),
}
STATEMENTS = 12  # the first of June, of May
MANY = sum(map(len, VISITS.values())) + len(ASIDE) + len(ON_ACCOUNT) + len(RECEIVED)


def _aside(story: Story, people: dict[str, int], back: int) -> int:
    """Goods that were set aside on a day, with their first payment in cash."""
    cash = 0
    for name, days, items, first in ASIDE:
        if days != back:
            continue
        who = next(id for called, id in people.items() if called.startswith(name))
        number = customer.open_sale(story.house, story.wren, who, story.key())
        for item in items.split():
            ticket_lines.add_line(story.house, story.wren, OnTicket(number, None, story.key()), Picked(item))
        whole = load_ticket(story.house, number)
        on = OnTicket(number, whole.head.version, story.key())
        tenders.take_cash(story.house, story.wren, on, whole.payers[0].id, tenders.Sum(first), first)
        terms = set_aside.terms_for(story.house, whole)
        set_aside.set_aside(story.house, story.wren, OnTicket(number, None, story.key()), terms.until)
        cash += first
    return cash


def _on_account(story: Story, people: dict[str, int], back: int) -> int:
    """What was left unpaid on a day, and what was paid of it in cash."""
    if back in ON_ACCOUNT:
        name, items = ON_ACCOUNT[back]
        number = customer.open_sale(story.house, story.wren, people[name], story.key())
        for item in items.split():
            ticket_lines.add_line(story.house, story.wren, OnTicket(number, None, story.key()), Picked(item))
        whole, on = load_ticket(story.house, number), OnTicket(number, None, story.key())
        accounts.put_on_account(story.house, story.odile, on, whole.payers[0].id, accounts.Leave(whole.bill.due))
        closing.free_table(story.house, story.wren, OnTicket(number, None, story.key()))
    if back not in RECEIVED:
        return 0
    name, amount = RECEIVED[back]
    who = known(story.house, people[name])
    paid = accounts.owed_by(story.house, who) if amount is None else amount
    story.pay(accounts.receive(story.house, story.wren, who.id, paid, story.key()), by="cash")
    return paid


def _statements(story: Story, people: dict[str, int]) -> None:
    """The statements of the month before, of who has an account."""
    whose = [people[name] for name in ("Saltpan Rowers", *ACCOUNTS)]
    month = date(2026, 5, 1), date(2026, 5, 31)
    statement_runs.ask_for(story.house, story.odile, month, whose, story.key())
    while statement_runs.make_next(story.house):
        story.clock.on()
    send_waiting(story.house)


def play_ahead(story: Story, people: dict[str, int], back: int) -> int:
    """What was sold and used on a day; all is paid in cash. Gives what that came to, in minor units."""
    cash = _aside(story, people, back) + _on_account(story, people, back)
    if back == STATEMENTS:
        _statements(story, people)
    for name, items in VISITS.get(back, ()):
        number = customer.open_sale(story.house, story.wren, people[name], story.key())
        for item in items.split():
            ticket_lines.add_line(story.house, story.wren, OnTicket(number, None, story.key()), Picked(item))
        cash += load_ticket(story.house, number).bill.due
        if load_ticket(story.house, number).bill.due:
            story.pay(number, by="cash")
        else:
            closing.free_table(story.house, story.wren, OnTicket(number, None, story.key()))
        story.clock.on(900)
    return cash
