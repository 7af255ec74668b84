"""The ways to pay that stand open to a payer: card machine, payment service, what is recorded or used up."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.accounts import room_left
from abrazo.core.ledger import Role
from abrazo.core.states import RequestState, TenderKind
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import stored_value
from abrazo.desk.payments.accounts import accounts_for, limits_of
from abrazo.desk.payments.cards import card_words, stored_for, tender_of
from abrazo.desk.people.people import known
from abrazo.desk.setup.tender_types import tenders_on
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import tenders
from abrazo.store.holds import Hold
from abrazo.store.people import Person
from abrazo.store.tender_types import TenderType
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence

NO_ACCOUNT = "no account"  # a way that is not open, with the reason
HELD = "held"  # the way of paying that takes from the held card


@dataclass(frozen=True, slots=True)
class Way:
    """A way to pay. `id` chooses it; `kind` is the tender's kind; `beside` is what stands under its name.

    `owner` is whose stored card it is.
    `act` is where its form is sent; `reference` what is asked for; `worth` what is on it, in minor units.
    """

    id: str
    kind: str
    name: str
    beside: str = ""
    act: str = ""
    reference: str = ""
    worth: int = 0
    card: int = 0
    missing: str = ""
    owner: str = ""
    account: int = 0
    wants_reference: bool = False
    bank: bool = False


def ways_of(house: House, actor: Actor, whole: TicketSnapshot, due: int, held: Hold | None) -> list[Way]:
    """Every way in the house's order; the payer's held card first. Cash is chosen by what is handed."""
    found: list[Way] = []
    if held is not None:
        found.append(Way(HELD, HELD, f"{held.brand} ••{held.last_four}", "held", "held"))
    for tender in tenders_on(house):
        found += _of(house, actor, whole, due, tender)
    return found


def _of(house: House, actor: Actor, whole: TicketSnapshot, due: int, tender: TenderType) -> list[Way]:
    person = whole.head.person
    if tender.kind == TenderKind.MACHINE:
        return _machines(house, actor)
    if tender.kind == TenderKind.KEYED:
        return [Way(tender.id, TenderKind.KEYED, house.say(w.KEY_A_CARD), house.say(w.BY_PHONE), "keyed")]
    if tender.kind == TenderKind.STORED_CARD:
        return [
            Way(f"card:{card.id}", tender.kind, card_words(house, card), house.say(w.STORED_BY, name=owner.first_name),
                "stored-card", card=card.id, owner=owner.name, bank=card.is_bank)
            for card, owner in stored_for(house, person) if tender_of(card) == tender.id
        ]  # fmt: skip
    if tender.kind == TenderKind.RECORDED:
        return [Way(tender.id, TenderKind.RECORDED, tender.name, "", "record", tender.reference)]
    if tender.kind in (TenderKind.GIFT_CARD, TenderKind.VOUCHER):
        number = w.NUMBER_ON_CARD if tender.kind == TenderKind.GIFT_CARD else w.NUMBER_ON_VOUCHER
        return [Way(tender.id, tender.kind, tender.name, "", "spend", house.say(number))]
    return _of_person(house, whole, due, tender)


def _of_person(house: House, whole: TicketSnapshot, due: int, tender: TenderType) -> list[Way]:
    """What only a known person has: store credit, points, an account."""
    person = whole.head.person
    if person is None:
        return []
    if tender.kind == TenderKind.ACCOUNT:
        pays = any(line.role is Role.ACCOUNT_PAYMENT for line in whole.standing)  # an account, by itself not
        open_to = [] if pays else accounts_for(house, person)
        if not open_to:
            why = w.ACCOUNT_PAYS_ITSELF if pays else w.ACCOUNT_NOT_THEIRS
            name = known(house, person).first_name
            return [Way(NO_ACCOUNT, TenderKind.ACCOUNT, tender.name, missing=house.say(why, name=name))]
        return [
            Way(
                tender.id if place == 0 else f"{tender.id}:{one.id}",
                TenderKind.ACCOUNT,
                tender.name,
                _with_room(house, one, person),
                "account",
                owner=one.name,
                account=one.id,
                wants_reference=one.wants_reference,
            )
            for place, one in enumerate(open_to)
        ]
    value = stored_value.credit_of(house, person) if tender.kind == TenderKind.STORE_CREDIT else None
    if tender.kind == TenderKind.POINTS:
        value = stored_value.points_value(house, person, due)
    if value is None:
        return []
    has = house.say(w.POINTS_WORTH if value.points else w.THERE, points=value.points, worth=value.worth)
    return [Way(tender.id, tender.kind, tender.name, has, "spend", worth=value.worth)]


def _with_room(house: House, account: Person, person: int) -> str:
    """Whose account it is, and how much may still be put on it."""
    room = room_left(limits_of(house, account, person))
    return account.name if room is None else house.say(w.ROOM_LEFT, name=account.name, amount=room)


def _machines(house: House, actor: Actor) -> list[Way]:
    busy = {ask.machine for ask in tenders.open_requests(house.connection) if ask.state != RequestState.UNKNOWN}
    return [
        Way(name, TenderKind.MACHINE, sentence(name), house.say(w.MACHINE_BUSY if name in busy else w.FREE), "card")
        for name in house.devices.machines
    ]


def chosen_way(ways: list[Way], wanted: str, own_machine: str, card_of: str | None = None) -> Way | None:
    """The way that is wanted, else the held card, else the till's own machine or one that is free.

    For somebody who likely pays by their stored card, and is called `card_of`, it is that.
    """
    by_id = {way.id: way for way in ways if not way.missing}
    if wanted in by_id:
        return by_id[wanted]
    if HELD in by_id:
        return by_id[HELD]
    if card_of is not None:
        called = card_of.casefold()
        own_card = next((w for w in ways if called and w.owner.casefold().split(" ")[0] == called.split(" ")[0]), None)
        if own_card:
            return own_card
    machines = [way for way in ways if way.kind == TenderKind.MACHINE]
    own = by_id.get(own_machine)
    if own is not None and own.beside == "ready":
        return own
    return next((way for way in machines if way.beside == "ready"), own or next(iter(machines), None))
