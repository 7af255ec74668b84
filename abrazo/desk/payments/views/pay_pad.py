"""The pay pad: what a payer can be offered."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from fractions import Fraction

from abrazo.core.deposits import freed_of_hold, over_hold
from abrazo.core.errors import Code, Refused
from abrazo.core.money import total
from abrazo.core.reckon import reckon
from abrazo.core.sharing import Payer
from abrazo.core.states import Extra, RequestKind, RequestState, RowKind, Share, Source, Split, Tender, TenderKind
from abrazo.core.tenders import above_due, cash_due, change_from, likely_cash, spent_of
from abrazo.core.tips import Tip, tip_amount
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import stored_value
from abrazo.desk.payments.holds import held_of
from abrazo.desk.payments.stored_value import Value
from abrazo.desk.payments.tips import OFFERED
from abrazo.desk.payments.views.payment_options import Way, chosen_way, ways_of
from abrazo.desk.people.people import known
from abrazo.desk.setup.tender_types import tenders_on
from abrazo.desk.tickets.prep import ToSend, to_send, unsent
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.devices.ports import SENT_TO_MACHINE, SENT_TO_SERVICE
from abrazo.formats.typed_amount import read_amount
from abrazo.store import catalogue
from abrazo.store import tenders as tenders_kept
from abrazo.store.holds import Hold
from abrazo.store.tenders import CardRequest, PaymentRow
from abrazo.words import phrases as w

MOST_PARTS = 6  # guests whose parts are offered by themselves


@dataclass(frozen=True, slots=True)
class TipOffer:
    """A tip that can be chosen with one touch; percent empty is no tip."""

    percent: str
    amount: int
    chosen: bool


@dataclass(frozen=True, slots=True)
class Typed:
    """What was typed or chosen on the pad, as text."""

    amount: str = ""
    handed: str = ""
    way: str = ""
    reference: str = ""
    extra: str = ""


@dataclass(frozen=True, slots=True)
class PayPad:
    """All figures of the pay pad, in minor units. `amount` is what will be taken; `fault` is what is wrong with it.

    `above` is what of the amount is more than is due, `extra` what becomes of it, `person` whose credit it could be.
    `figures` are amounts that fill the field at a touch.
    """

    bill: int
    tip: int
    paid: int
    due: int
    amount: int
    part: bool
    above: int
    extra: str
    person: str
    cash: int
    tips: list[TipOffer]
    other_tip: bool
    figures: list[Figure]
    ways: list[Way]
    way: Way | None
    value: Value | None
    notes: list[tuple[int, int]]
    handed: int | None
    change: int
    open_ask: CardRequest | None
    last_ask: CardRequest | None
    payments: list[PaymentRow]
    held: Hold | None = None  # the card held for this ticket
    over: int = 0
    tippable: bool = True
    fault: Refused | None = None
    spends: int = 0  # what a gift card, voucher, credit or points give to this amount
    spent_rest: int = 0  # what is left on it then
    freed: int = 0  # of the held card, when this amount is taken from it
    sends: ToSend | None = None  # what goes to be made with this payment
    on_account: int = 0  # what of it was put on an account
    still_asked: list[CardRequest] = field(default_factory=list)  # silent charges in spite of which they can pay


def read_money(house: House, text: str, where: str) -> int:
    """An amount in minor units, as a person types it. Refused beside its field."""
    return read_amount(house.settings.currency, text, where)


@dataclass(frozen=True, slots=True)
class _Amounts:
    wanted: int
    given: int | None
    fault: Refused | None = None


def _amounts(house: House, due: int, typed: Typed) -> _Amounts:
    """What is to be taken, and what was handed over; bad ones leave what would be without them."""
    try:
        wanted = read_money(house, typed.amount, "amount") if typed.amount else due
        if wanted <= 0:
            raise Refused(Code.NO_TAKEN_AMOUNT, "amount")
        return _Amounts(wanted, read_money(house, typed.handed, "handed") if typed.handed else None)
    except Refused as refusal:
        return _Amounts(due, None, refusal)


def _covered(house: House, found: _Amounts, cash: int) -> _Amounts:
    """Refused beside the field when what was handed over does not cover the amount."""
    if found.given is None or found.given >= cash:
        return found
    return _Amounts(found.wanted, None, Refused(Code.CASH_TOO_LITTLE, "handed", given=found.given, cash=cash))


def pay_pad(house: House, actor: Actor, whole: TicketSnapshot, payer_id: int, typed: Typed) -> PayPad:
    """The pad for one payer. Bad amounts leave the pad as it would be without them, with the fault named."""
    account, payer = whole.payer_bill(payer_id).account, whole.payer(payer_id)
    found = _amounts(house, account.due, typed)
    cash = cash_due(found.wanted, house.settings.cash_rounding) if found.wanted == account.due else found.wanted
    found = _covered(house, found, cash)
    wanted, given = found.wanted, found.given
    takes_cash = any(tender.kind == TenderKind.CASH for tender in tenders_on(house))
    notes = likely_cash(cash, catalogue.list_denominations(house.connection), 10**house.settings.currency.digits)
    asks = [ask for ask in whole.asks if ask.payer == payer_id]
    offers, held = _tips(whole, payer_id), held_of(house, whole, payer_id)
    ways = ways_of(house, actor, whole, account.due, held)
    way = (
        None
        if given is not None
        else chosen_way(ways, typed.way, actor.till.machine, _own_card(house, whole, payer_id))
    )
    value, fault = _value(house, way, typed.reference, found.fault)
    above = above_due(account.due, wanted)
    spends, rest = _spends(way, value, wanted)
    return PayPad(
        bill=account.total,
        tip=account.tip,
        paid=account.paid,
        due=account.due,
        amount=wanted,
        part=wanted != account.due,
        above=above,
        extra=typed.extra if above and typed.extra in set(Extra) else "",
        person=known(house, whole.head.person).name if whole.head.person else "",
        cash=cash,
        tips=offers,
        other_tip=bool(payer.tip_amount) and not any(offer.chosen for offer in offers),
        figures=figures(house, whole, payer_id),
        ways=ways,
        way=way,
        value=value,
        spends=spends,
        spent_rest=rest,
        freed=freed_of_hold(held.amount, wanted) if held else 0,
        notes=[(note, change_from(note, cash)) for note in notes] if takes_cash else [],
        handed=given,
        change=0 if given is None else change_from(given, cash),
        open_ask=next((ask for ask in asks if ask.blocks), None),
        still_asked=[ask for ask in whole.asks if ask.open and not ask.blocks],
        last_ask=_last(asks),
        payments=[payment for payment in whole.payments if payment.payer == payer_id],
        held=held,
        over=over_hold(wanted, held.amount) if held else 0,
        tippable=any(line.sells for line in whole.standing),
        fault=fault,
        on_account=whole.on_account(payer_id),
        sends=_sends(house, whole, spends if value or (way and way.act == "spend") else wanted),
    )


def _sends(house: House, whole: TicketSnapshot, taken: int) -> ToSend | None:
    """What goes to be made with a payment of so much: everything, once nothing is left to pay."""
    return to_send(unsent(house, whole)) if taken >= whole.bill.due else None


def _spends(way: Way | None, value: Value | None, wanted: int) -> tuple[int, int]:
    """What the chosen stored value gives to the amount, and what is left on it; points go as a whole."""
    if value is not None:
        return spent_of(value.worth, wanted)
    if way is None:
        return 0, 0
    return (way.worth, 0) if way.kind == stored_value.POINTS else spent_of(way.worth, wanted)


def _own_card(house: House, whole: TicketSnapshot, payer_id: int) -> str | None:
    """The payer's name when it is likely that they pay by their stored card: they are on the phone, or did so last."""
    head = whole.head
    if head.source != Source.PHONE:
        person = house.person(head.person) if head.person is not None and len(whole.payers) == 1 else None
        last = tenders_kept.last_tender(house.connection, person.id, head.id) if person else ""
        return person.name if person and last in (Tender.STORED_CARD, Tender.BANK_ACCOUNT) else None
    return next((guest.name for guest in whole.guests_of(payer_id) if guest.name), "")


CAME_TO_NOTHING = (RequestState.DECLINED, RequestState.CANCELLED, RequestState.NOT_SENT)


def _last(asks: list[CardRequest]) -> CardRequest | None:
    """The last thing asked of a machine, when it came to nothing."""
    return asks[-1] if asks and asks[-1].state in CAME_TO_NOTHING else None


def _value(house: House, way: Way | None, code: str, fault: Refused | None) -> tuple[Value | None, Refused | None]:
    """What is on a gift card or voucher whose number was typed."""
    if way is None or way.kind not in (stored_value.GIFT_CARD, stored_value.VOUCHER) or not code.strip():
        return None, fault
    try:
        return stored_value.find_value(house, way.kind, code), fault
    except Refused as refusal:
        return None, fault or refusal


@dataclass(frozen=True, slots=True)
class Figure:
    """An amount that stands in the field at a touch; with `fees` the payer takes the charges that way from now on."""

    words: str
    amount: int
    fees: str = ""


def figures(house: House, whole: TicketSnapshot, payer_id: int) -> list[Figure]:
    """Amounts that fill the field: the payer's items alone, with fees both ways; else each guest's part of the bill."""
    bill, due = whole.payer_bill(payer_id), whole.payer_bill(payer_id).account.due
    items = total(row.amount for row in bill.rows if row.kind == RowKind.LINE)
    if whole.payer(payer_id).stated:
        return []
    if whole.shared and whole.charges and whole.head.split == Split.SHARES and not bill.account.paid:
        both = [(w.FEES_EVENLY, Share.EVEN), (w.FEES_IN_PROPORTION, Share.PROPORTIONAL)]
        ways = [(words, _due_with(whole, payer_id, share), share) for words, share in both]
        alone = [Figure(house.say(w.ITEMS_ALONE), items)] if 0 < items <= due else []
        return alone + [Figure(house.say(words), sum_, share) for words, sum_, share in ways if sum_]
    if not whole.shared and 1 < len(whole.guests) <= MOST_PARTS and not whole.taken:
        return [Figure(words, amount) for words, amount in _parts(house, whole) if 0 < amount <= due]
    return []


def _due_with(whole: TicketSnapshot, payer_id: int, share: Share) -> int:
    """What a payer would owe who takes the charges so; 0 when this way is not open any more."""
    try:
        bill = reckon(replace(whole.ticket, fees={**whole.ticket.fees, str(payer_id): share}))
    except Refused:
        return 0
    return next(one.account.due for one in bill.payers if one.id == str(payer_id))


def _parts(house: House, whole: TicketSnapshot) -> list[tuple[str, int]]:
    """Each guest's part, as if the bill were shared by guest."""
    payers = tuple(Payer(f"g{guest.id}", (str(guest.id),)) for guest in whole.guests)
    bill = reckon(replace(whole.ticket, payers=payers, split=Split.SHARES, tips=(), payments=(), settled={}))
    names = {f"g{guest.id}": guest.name or guest.letter for guest in whole.guests}
    return [(house.say(w.PART_OF, name=names[payer.id]), payer.account.total) for payer in bill.payers]


def _tips(whole: TicketSnapshot, payer_id: int) -> list[TipOffer]:
    payer, basis = whole.payer(payer_id), {"net": net_of(whole, payer_id)}
    none = not payer.tip_percent and not payer.tip_amount
    offers = [TipOffer("", 0, none)]
    for percent in OFFERED:
        amount = tip_amount(Tip(str(payer_id), percent=Fraction(percent)), basis)
        offers.append(TipOffer(percent, amount, payer.tip_percent == percent))
    return offers


def net_of(whole: TicketSnapshot, payer_id: int) -> int:
    """A payer's share of the lines, rounded once: what a tip in percent is reckoned on."""
    return dict(zip((bill.id for bill in whole.bill.payers), whole.bill.payer_nets, strict=True))[str(payer_id)]


@dataclass(frozen=True, slots=True)
class ChargeWay:
    """A charge shared one way and the other: minor units by payer's letter."""

    id: int
    label: str
    share: Share
    even: tuple[tuple[str, int], ...]
    proportional: tuple[tuple[str, int], ...]


def charge_ways(whole: TicketSnapshot) -> list[ChargeWay]:
    """Both figures of every charge, so that they can be seen before choosing."""
    return [
        ChargeWay(
            c.id,
            c.label,
            c.share,
            _charge_parts(whole, c.id, Share.EVEN),
            _charge_parts(whole, c.id, Share.PROPORTIONAL),
        )
        for c in whole.charges
        if whole.shared and whole.head.split == Split.SHARES
    ]


def _charge_parts(whole: TicketSnapshot, charge: int, share: Share) -> tuple[tuple[str, int], ...]:
    changed = tuple(replace(c, share=share) if c.id == str(charge) else c for c in whole.ticket.charges)
    try:
        bill = reckon(replace(whole.ticket, charges=changed, payments=()))
    except Refused:  # somebody has settled their part: this way is no longer open
        return ()
    letters = {str(payer.id): payer.letter for payer in whole.payers}
    return tuple(
        (letters[p.id], row.amount)
        for p in bill.payers
        for row in p.rows
        if (row.kind, row.ref) == (RowKind.CHARGE, str(charge))
    )


SERVICE_STEPS = (SENT_TO_SERVICE, "Asking the bank")
OWN_STEPS = (SENT_TO_MACHINE, "Asking the bank")  # nobody has to show a card again
GUEST_STEPS = (SENT_TO_MACHINE, "Card shown", "Tip chosen", "PIN keyed", "Asking the bank")


def card_steps(request: CardRequest) -> tuple[str, ...]:
    """The steps of a card's request that a page shows, by what is asked and of whom."""
    if request.card:
        return SERVICE_STEPS
    return OWN_STEPS if request.kind in (RequestKind.CAPTURE, RequestKind.RELEASE, RequestKind.TIP) else GUEST_STEPS
