"""What the ticket's strip shows: groups of lines, payers' cards and the spine, with every height reckoned here.

Geometry is in CSS pixels; heights are multiples of 4, because templates set them by class (no inline styles).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from abrazo.core.bill import as_one, own_and_shared
from abrazo.core.sharing import apportion
from abrazo.core.states import AdjustmentKind, RequestState, RowKind, Share, Split
from abrazo.core.ticket import LineBill, price_of_one
from abrazo.desk.context import House
from abrazo.desk.people.people import known
from abrazo.desk.tickets.naming import guest_name, payer_name
from abrazo.desk.tickets.snapshot import LineRow, PayerRow, TicketSnapshot
from abrazo.web.spine import Source, Spine, Target, spine
from abrazo.words import phrases as w
from abrazo.words.amounts import money_words
from abrazo.words.speaking import sentence

TABLE = "∗"
MANY = 4  # payers up to whom every line has bands of its own
FOLD, FOLD_GAP, FOLD_ROW = 48, 4, 26  # px of a guest's port and of a shared line in theirs
FOLDED_UNIT = 1.5  # most px a main unit where lines are folded
ROW, GROUP_GAP, CARD, CARD_GAP = 52, 8, 104, 12
THICKEST, PER_UNIT = 44, 2.4  # px of the thickest band, and most px a main unit


@dataclass(frozen=True, slots=True)
class StripLine:
    """One line or charge of the ticket, as a row."""

    ref: str
    kind: str
    label: str
    count: str
    words: str
    amount: int
    staff: str
    seats: tuple[str, ...]
    parts: tuple[tuple[str, int], ...]  # (payer's letter, minor units)
    top: int
    removed: str = ""
    share: str = ""
    quantity: str = "1"
    item: str = ""
    who: str = ""  # staff id
    unit: str = ""
    booking: int | None = None
    job: int | None = None
    member: int | None = None  # of the household, for whom it is
    note: str = ""
    own: int = 0  # with what was given on the line, before what was given on the whole ticket
    gross: int = 0  # before anything was taken off or added
    each: int | None = None  # of one, where there are several or it is measured
    weights: str = ""  # who has how much of it, where they have unequal parts: A 2, C 1
    has: str = "none"  # what the payer being picked for has of it: none, some, all


@dataclass(frozen=True, slots=True)
class Group:
    """Lines of one guest, or of the whole table."""

    letter: str
    name: str
    rows: list[StripLine]
    top: int


@dataclass(frozen=True, slots=True)
class Fold:
    """All lines of one guest, or all shared ones, as one port, where many pay. Minor units, pixels."""

    letter: str
    name: str
    rows: list[StripLine]
    amount: int
    parts: tuple[tuple[str, int], ...]
    top: int
    height: int

    @property
    def listed(self) -> bool:
        """Whether its lines stand one under the other, rather than on one line."""
        return self.letter == TABLE


SETTLED = ("paid", "on account", "paid, in part on account")  # states of a payer from whom nothing more comes


@dataclass(frozen=True, slots=True)
class PayerCard:
    """One payer, as a card. Minor units."""

    id: int
    letter: str
    name: str
    guests: tuple[str, ...]
    total: int
    tip: int
    paid: int
    due: int
    state: str
    own: int
    shared: int
    top: int
    height: int
    stated: int | None = None
    asked: int = 0  # bill and tip
    chosen: bool = False  # the one of many for whom lines are picked

    @property
    def settled(self) -> bool:
        """Whether nothing more comes from this payer, who has paid or put it on an account."""
        return self.state in SETTLED


@dataclass(frozen=True, slots=True)
class Bar:
    """A payer's part of the bill as a bar of 1000, and what of it is paid."""

    letter: str
    x: float
    width: float
    paid: float


@dataclass
class Strip:
    """The whole strip."""

    groups: list[Group]
    removed: list[StripLine]
    cards: list[PayerCard]
    height: int
    bars: list[Bar]
    equal_part: int = 0  # about what each of the equal parts comes to
    folds: list[Fold] = field(default_factory=list)
    spines: dict[str, Spine] = field(default_factory=dict)


def strip_of(house: House, whole: TicketSnapshot, picking: int | None = None) -> Strip:
    """The strip of a ticket; `picking` is the payer for whom lines are being picked.

    With many payers the lines of each guest, and all shared ones, are one port; while lines are picked for one of many,
    only that payer's bands are drawn: else nobody can follow them.
    """
    many = len(whole.payers) > MANY
    groups = _groups(house, whole, picking)
    rows = [row for group in groups for row in group.rows]
    folds = folded(groups) if many and picking is None and whole.head.split != Split.EQUAL else []
    left = lowest(folds) if folds else groups[-1].top + len(groups[-1].rows) * ROW + GROUP_GAP if groups else 0
    scale = folded_scale(whole, folds) if folds else _scale(whole, rows, house.settings.currency.digits)
    cards = _cards(house, whole, scale, left, picking)
    right = cards[-1].top + cards[-1].height if cards else 0
    strip = Strip(
        groups,
        _removed(house, whole),
        cards,
        max(left, right, 4 * ROW),
        _bars(cards, whole.bill.asked),
        _equal_part(whole),
        folds,
    )
    if whole.head.split == Split.EQUAL and rows:
        sources = [_all_as_one(whole, left)]
    elif folds:
        sources = [Source(fold.top + fold.height / 2, fold.amount, fold.parts) for fold in folds]
    else:
        sources = [Source(row.top + ROW / 2, row.amount, row.parts) for row in rows]
    strip.spines = _spines(house, whole, strip, sources, scale)
    return strip


def _bars(cards: list[PayerCard], asked: int) -> list[Bar]:
    """Who bears how much of what is asked, side by side."""
    x, found = 0.0, list[Bar]()
    for card in (one for one in cards if one.asked):
        width = 1000 * card.asked / (asked or 1)
        found.append(Bar(card.letter, x, width, width * card.paid / card.asked))
        x += width
    return found


def _equal_part(whole: TicketSnapshot) -> int:
    open_ = [p for p in whole.payers if p.stated is None and not p.settled_at]
    parts = apportion(whole.bill.due, [1] * len(open_)) if open_ and whole.bill.due > 0 else (0,)
    return parts[-1]


# ---- the left side


Parts = dict[tuple[str, str], tuple[tuple[str, int], ...]]


@dataclass(frozen=True, slots=True)
class _Facts:
    """What every row needs, gathered once: staff's initials, lines' amounts, and who covers what."""

    initials: dict[str, str]
    bills: dict[str, LineBill]
    parts: Parts
    say: Callable[..., str]
    members: dict[int, str]


def _groups(house: House, whole: TicketSnapshot, picking: int | None) -> list[Group]:
    by_letter: dict[str, list[LineRow]] = {TABLE: []}
    letters = {guest.id: guest.letter for guest in whole.guests}
    for guest in whole.guests:
        by_letter[guest.letter] = []
    for line in whole.standing:
        mine = [letters[guest] for guest, weight in line.shares if weight]
        by_letter[mine[0] if len(mine) == 1 else TABLE].append(line)
    if len(whole.guests) == 1:
        by_letter["A"] = by_letter.pop(TABLE) + by_letter["A"]
    names = {guest.letter: sentence(guest_name(house, whole, guest)) for guest in whole.guests}
    names[TABLE] = house.say(w.THE_TABLE if whole.head.spot else w.ALL)
    charged = TABLE if TABLE in by_letter else "A"
    facts = _Facts(
        {staff.id: staff.initials for staff in house.staff().values()},
        {one.id: one for one in whole.bill.lines},
        _parts(whole),
        house.say,
        {one.member: known(house, one.member).name for one in whole.standing if one.member is not None},
    )
    top, groups = 0, list[Group]()
    for letter, lines in by_letter.items():
        row_top, rows = top, list[StripLine]()
        for line in lines:
            rows.append(_line_row(facts, whole, line, row_top, picking))
            row_top += ROW
        for charge in whole.charges if letter == charged else []:
            rows.append(_charge_row(facts, whole, str(charge.id), charge.label, charge.share, row_top))
            row_top += ROW
        if rows:
            groups.append(Group(letter, names[letter], rows, top))
            top = row_top + GROUP_GAP
    return groups


def _line_row(facts: _Facts, whole: TicketSnapshot, line: LineRow, top: int, picking: int | None) -> StripLine:
    letters = {guest.id: guest.letter for guest in whole.guests}
    seats = tuple(letters[guest] for guest, weight in line.shares if weight)
    words = [label for label, _ in line.choices]
    weights = _weights(line, letters)
    if len(seats) > 1:
        words.insert(0, facts.say(w.FOR_GUESTS, letters=weights or ", ".join(seats)))
    if line.member is not None:
        words.append(facts.say(w.FOR_MEMBER, name=facts.members[line.member]))
    for one in whole.given:
        if one.line == line.id:
            by = f"{one.percent} %" if one.percent else whole.ticket.currency.text(one.amount or 0)
            words.append(
                one.reason
                if one.benefit or one.series
                else f"{one.reason}, {one.kind}" + ("" if one.kind == AdjustmentKind.COMP else f" {by}")
            )
    if line.price_list:
        words.append(line.price_list)
    bill, several = facts.bills[str(line.id)], line.quantity != "1" or bool(line.unit)
    mine = {guest.letter for guest in whole.guests_of(picking)} if picking else set()
    having = set(seats) or {guest.letter for guest in whole.guests}
    has = "none" if not having & mine else "all" if having <= mine else "some"
    return StripLine(
        ref=str(line.id),
        kind="line",
        label=line.label,
        count=f"{line.quantity} {line.unit} " if line.unit else "" if line.quantity == "1" else f"{line.quantity} × ",
        words=", ".join(words),
        amount=bill.net,
        own=bill.own,
        gross=bill.gross,
        each=price_of_one(line.unit_price, (price for _, price in line.choices)) if several else None,
        weights=weights,
        staff=facts.initials[line.staff],
        seats=seats,
        parts=facts.parts.get((RowKind.LINE, str(line.id)), ()),
        top=top,
        quantity=line.quantity,
        item=line.item,
        who=line.staff,
        unit=line.unit,
        note=line.note,
        booking=line.booking,
        job=line.job,
        member=line.member,
        has=has,
    )


def _weights(line: LineRow, letters: dict[int, str]) -> str:
    """Who has how much of a line, as it is typed; empty where all have the same."""
    shares = [(letters[guest], weight) for guest, weight in line.shares if weight]
    equal = len({weight for _, weight in shares}) < 2
    return "" if equal else ", ".join(f"{letter} {weight}" for letter, weight in shares)


def _charge_row(facts: _Facts, whole: TicketSnapshot, ref: str, label: str, share: str, top: int) -> StripLine:
    amount = dict(whole.bill.charges)[ref]
    words = facts.say(w.SHARED_EVENLY if share == Share.EVEN else w.SHARED_IN_PROPORTION)
    parts = facts.parts.get((RowKind.CHARGE, ref), ())
    return StripLine(ref, "charge", label, "", words, amount, "", (), parts, top, share=share)


def _parts(whole: TicketSnapshot) -> Parts:
    """Who covers how much of every line and charge, by (kind, id)."""
    letters = {str(payer.id): payer.letter for payer in whole.payers}
    found: dict[tuple[str, str], list[tuple[str, int]]] = {}
    for bill in whole.bill.payers:
        for row in bill.rows:
            found.setdefault((row.kind, row.ref), []).append((letters[bill.id], row.amount))
    return {key: tuple(parts) for key, parts in found.items()}


def _all_as_one(whole: TicketSnapshot, left: int) -> Source:
    """All lines as one bar: in equal parts nobody has a line of their own."""
    letters = {str(payer.id): payer.letter for payer in whole.payers}
    parts = tuple((letters[bill.id], bill.account.total) for bill in whole.bill.payers)
    return Source(left / 2, whole.bill.total, parts)


def _removed(house: House, whole: TicketSnapshot) -> list[StripLine]:
    people = house.staff()
    return [
        StripLine(
            ref=str(line.id),
            kind="line",
            label=line.label,
            count="" if line.quantity == "1" else f"{line.quantity} × ",
            words=", ".join(label for label, _ in line.choices),
            amount=0,
            staff=people[line.staff].initials,
            seats=(),
            parts=(),
            top=0,
            removed=house.say(w.REMOVED, at=line.removed_at, name=people[line.removed_by or line.staff].name),
        )
        for line in whole.lines
        if line.removed_at
    ]


# ---- folded


def folded(groups: list[Group]) -> list[Fold]:
    """One port a group: what it comes to, and who covers how much of it."""
    top, folds = 0, list[Fold]()
    for group in groups:
        amount, parts = as_one((row.amount, row.parts) for row in group.rows)
        height = max(FOLD, FOLD_ROW * len(group.rows) + 8) if group.letter == TABLE else FOLD
        folds.append(Fold(group.letter, group.name, group.rows, amount, parts, top, height))
        top += height + FOLD_GAP
    return folds


def lowest(folds: list[Fold]) -> int:
    """Where the last port ends."""
    return folds[-1].top + folds[-1].height


def folded_scale(whole: TicketSnapshot, folds: list[Fold]) -> float:
    """The greatest scale at which no band is thicker than the port or the card where it ends, in px a minor unit."""
    totals = [whole.payer_bill(payer.id).account.total for payer in whole.payers]
    steps = [FOLDED_UNIT / 10.0**whole.ticket.currency.digits]
    steps += [(fold.height - 6) / fold.amount for fold in folds if fold.amount > 0]
    return min(steps + [(FOLD - 6) / total for total in totals if total > 0])


# ---- the right side


def _cards(house: House, whole: TicketSnapshot, scale: float, left: int, picking: int | None) -> list[PayerCard]:
    many = len(whole.payers) > MANY
    heights = [
        FOLD
        if many and payer.id != picking
        else max(CARD, _four(whole.payer_bill(payer.id).account.total * scale + 24))
        for payer in whole.payers
    ]
    free = max(0, left - sum(heights))
    gap = FOLD_GAP if many else min(CARD_GAP * 3, max(CARD_GAP, _four(free / max(1, len(heights)))))
    top, cards = 0, list[PayerCard]()
    for payer, height in zip(whole.payers, heights, strict=True):
        cards.append(_card(house, whole, payer, (top, height), chosen=many and payer.id == picking))
        top += height + gap
    return cards


def _card(house: House, whole: TicketSnapshot, payer: PayerRow, place: tuple[int, int], *, chosen: bool) -> PayerCard:
    bill = whole.payer_bill(payer.id)
    others = [p for p in whole.bill.payers if p.id != bill.id and p.id not in whole.ticket.stated]
    own, shared = own_and_shared(bill, others)
    return PayerCard(
        id=payer.id,
        letter=payer.letter,
        name=sentence(payer_name(house, whole, payer.id)),
        guests=tuple(guest.letter for guest in whole.guests_of(payer.id)),
        total=bill.account.total,
        tip=bill.account.tip,
        paid=bill.account.paid,
        due=bill.account.due,
        state=_state(house, whole, payer),
        own=own,
        shared=shared,
        top=place[0],
        height=place[1],
        stated=payer.stated,
        asked=bill.account.asked,
        chosen=chosen,
    )


def _state(house: House, whole: TicketSnapshot, payer: PayerRow) -> str:
    account = whole.payer_bill(payer.id).account
    for ask in whole.open_requests:
        if ask.payer == payer.id:
            return (
                "outcome unknown"
                if ask.state == RequestState.UNKNOWN
                else house.say(w.ON_MACHINE_NOW, machine=ask.machine)
            )
    if account.due == 0:
        return _how_settled(whole, payer.id, account.paid) if account.paid else "nothing to pay"
    return "part paid" if account.paid else "not paid yet"


def _how_settled(whole: TicketSnapshot, payer: int, paid: int) -> str:
    """Of a payer from whom nothing is due: paid, or put on an account with the whole or a part."""
    put = whole.on_account(payer)
    return "paid" if not put else "on account" if put == paid else "paid, in part on account"


# ---- between them


def _four(pixels: float) -> int:
    return int(pixels // 4 + 1) * 4


def _scale(whole: TicketSnapshot, rows: list[StripLine], digits: int) -> float:
    """One scale for the whole ticket, in px a minor unit."""
    steps: list[float] = [PER_UNIT / (10.0**digits), *(THICKEST / row.amount for row in rows if row.amount > 0)]
    if whole.bill.total:
        steps.append(460 / whole.bill.total)
    return float(min(steps))


def _spines(house: House, whole: TicketSnapshot, strip: Strip, sources: list[Source], scale: float) -> dict[str, Spine]:
    cards = strip.cards
    parts = ", ".join(f"{card.name} {money_words(card.total, whole.ticket.currency)}" for card in cards)
    words = house.say(w.COVERED, lines=len(whole.standing) + len(whole.charges), parts=parts)
    alone = [card for card in cards if card.chosen]
    targets = [
        Target(
            card.letter,
            card.top + card.height / 2,
            card.total,
            min(1.0, card.paid / card.asked) if card.asked else 0.0,
        )
        for card in alone or cards
    ]
    return {
        name: spine(sources, targets, scale, (width, strip.height), words)
        for name, width in (("wide", 300), ("slim", 96), ("phone", 60))
    }
