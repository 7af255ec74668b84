"""The Tabs lens: open tabs with what is held for them, tickets on hold, phone orders, counter sales left open."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.deposits import freed_of_hold, inside_hold, over_hold
from abrazo.core.moments import seconds_between
from abrazo.core.money import total
from abrazo.core.states import Source
from abrazo.desk.context import House
from abrazo.desk.payments.holds import held_for, held_for_each
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot
from abrazo.desk.tickets.views.ticket_status import minutes_since
from abrazo.words import phrases as w

ROUND_APART = 8 * 60  # seconds without an order that begin a new round


@dataclass(frozen=True, slots=True)
class TabCard:
    """A tab as it stands. Minor units."""

    ticket: int
    version: int
    name: str
    staff: str
    minutes: int
    total: int
    due: int
    held: int
    over: int
    card: str  # brand and last four of the held card, empty without one
    hold: int | None
    lines: int
    free: int = 0  # what is left of the hold

    @property
    def inside(self) -> int:
        """What of the tab is inside the hold; all of it when none is held."""
        return inside_hold(self.due, self.over)


@dataclass(frozen=True, slots=True)
class Round:
    """What was ordered together. Minor units."""

    number: int
    at: str
    staff: str
    lines: list[tuple[str, str, int]]  # words, choices, amount
    amount: int
    ids: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class AlsoOpen:
    """Another ticket without a table: on hold, a phone order, a counter sale."""

    ticket: int
    name: str
    words: str
    due: int
    held: bool


@dataclass(frozen=True, slots=True)
class Tabs:
    """The lens."""

    tabs: list[TabCard]
    others: list[AlsoOpen]
    most: int  # the largest sum or hold: all vessels are drawn on one scale


def tab_card(house: House, whole: TicketSnapshot) -> TabCard:
    """One tab."""
    hold = held_for(house, whole.head.id)
    return TabCard(
        ticket=whole.head.id,
        version=whole.head.version,
        name=whole.head.name or place_of(house, whole),
        staff=house.staff()[whole.head.staff].name,
        minutes=minutes_since(house, whole.head.opened_at),
        total=whole.bill.total,
        due=whole.bill.due,
        held=hold.amount if hold else 0,
        over=over_hold(whole.bill.due, hold.amount) if hold else 0,
        card=f"{hold.brand} ••{hold.last_four}" if hold else "",
        hold=hold.id if hold else None,
        lines=len(whole.standing),
        free=freed_of_hold(hold.amount, whole.bill.due) if hold else 0,
    )


def loose_tickets(house: House, open_tickets: list[TicketSnapshot]) -> list[TicketSnapshot]:
    """Everything open that has no table; what cards hold for it is read at once, to be taken one by one."""
    loose = [whole for whole in open_tickets if whole.head.spot is None]
    held_for_each(house, [whole.head.id for whole in loose])
    return loose


def is_running_tab(whole: TicketSnapshot) -> bool:
    """Whether a ticket is a tab that is not put aside."""
    return whole.head.source == Source.TAB and not whole.head.held_at


def tabs(house: House, open_tickets: list[TicketSnapshot]) -> Tabs:
    """Everything open that has no table: tabs as cards, and the rest."""
    loose = loose_tickets(house, open_tickets)
    cards = [tab_card(house, whole) for whole in loose if is_running_tab(whole)]
    others = [_other(house, whole) for whole in loose if not is_running_tab(whole)]
    most = max([1, *(card.due for card in cards), *(card.held for card in cards)])
    return Tabs(cards, others, most)


def _other(house: House, whole: TicketSnapshot) -> AlsoOpen:
    head, items = whole.head, house.say(w.LINES, lines=len(whole.standing))
    if head.held_at:
        said = [house.say(w.ON_HOLD, at=head.held_at), items]
    elif head.source == Source.PHONE:
        said = [house.say(w.PHONE_ORDER), house.say(w.GUESTS, guests=len(whole.guests))]
        said += [house.say(w.PROMISED_AT, at=head.promised_at)] if head.promised_at else []
        said.append(house.say(w.PAID_WHEN_HANDED))
    else:
        said = [house.say(w.OPENED, source=head.source, at=head.opened_at), items]
    return AlsoOpen(head.id, place_of(house, whole), ", ".join(said), whole.bill.due, bool(head.held_at))


def rounds(house: House, whole: TicketSnapshot) -> list[Round]:
    """A tab's lines in the rounds in which they were ordered."""
    nets, people = {bill.id: bill.net for bill in whole.bill.lines}, house.staff()
    groups: list[list[LineRow]] = []
    for line in whole.standing:
        last = groups[-1][-1].added_at if groups else ""
        if last and _seconds(last, line.added_at) < ROUND_APART:
            groups[-1].append(line)
        else:
            groups.append([line])
    return [
        Round(
            number=number,
            at=group[0].added_at,
            staff=people[group[0].staff].name,
            lines=[(_words(ln), ", ".join(label for label, _ in ln.choices), nets[str(ln.id)]) for ln in group],
            amount=total(nets[str(line.id)] for line in group),
            ids=tuple(line.id for line in group),
        )
        for number, group in enumerate(groups, 1)
    ]


def _words(line: LineRow) -> str:
    return line.label if line.quantity == "1" else f"{line.quantity} {line.unit or '×'} {line.label}"


def _seconds(first: str, second: str) -> float:
    return seconds_between(first, second)
