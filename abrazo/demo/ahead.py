"""What was paid ahead in the ninety days before the demo's Saturday, played through the desk on its own days."""

from __future__ import annotations

from abrazo.demo.story import Story
from abrazo.desk.payments import closing, set_aside, tenders
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
MANY = sum(map(len, VISITS.values())) + 2  # with what is set aside


ASIDE = (("Edda", 35, "sun-hat dry-bag-m-teal", 3000), ("Dorte Vance", 70, "dry-bag-l-red", 800))


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


def play_ahead(story: Story, people: dict[str, int], back: int) -> int:
    """What was sold and used on a day; all is paid in cash. Gives what that came to, in minor units."""
    cash = _aside(story, people, back)
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
