"""The pay pad: what a payer can be offered."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction

from abrazo.core.deposits import over_hold
from abrazo.core.errors import Refused
from abrazo.core.ledger import DEPOSIT
from abrazo.core.reckon import reckon
from abrazo.core.tenders import cash_due, likely_cash
from abrazo.core.tips import Tip, tip_amount
from abrazo.desk.house import Actor, House
from abrazo.desk.look.tabs import held_for
from abrazo.desk.people import known
from abrazo.desk.tips import OFFERED
from abrazo.desk.whole import Whole
from abrazo.store import catalogue, tenders
from abrazo.store.holds import Hold
from abrazo.store.tenders import CardAsk, KeptPayment

HELD = "held"  # the way of paying that takes from the held card


@dataclass(frozen=True, slots=True)
class TipOffer:
    """A tip that can be chosen with one touch; percent empty is no tip."""

    percent: str
    amount: int
    chosen: bool


@dataclass(frozen=True, slots=True)
class MachineOffer:
    """A card machine, and with whom it is busy."""

    name: str
    busy: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class PayPad:
    """All figures of the pay pad, in minor units. `amount` is what will be taken; `fault` is what is wrong with it."""

    bill: int
    tip: int
    paid: int
    due: int
    amount: int
    part: bool
    cash: int
    tips: list[TipOffer]
    other_tip: bool
    machines: list[MachineOffer]
    machine: str
    notes: list[tuple[int, int]]
    handed: int | None
    change: int
    open_ask: CardAsk | None
    last_ask: CardAsk | None
    payments: list[KeptPayment]
    held: Hold | None = None  # the card held for this ticket
    on_held: bool = False  # whether the held card is the way that is chosen
    over: int = 0
    tippable: bool = True
    account: str = ""  # whose account a rest can be put on
    fault: Refused | None = None


def read_money(house: House, text: str, where: str) -> int:
    """An amount as a person types it: a comma for a point and a currency sign are taken."""
    plain = text.strip().replace("€", "").replace(",", ".").strip()
    if not plain:
        raise Refused("amount", "How much? An amount such as 12.50.", where)
    try:
        return house.settings.currency.read(plain, where)
    except Refused as refusal:
        raise Refused("amount", f"“{text}” is not an amount: {refusal.what}", where) from None


def pay_pad(
    house: House, actor: Actor, whole: Whole, payer_id: int, amount: str = "", handed: str = "", machine: str = ""
) -> PayPad:
    """The pad for one payer. Bad amounts leave the pad as it would be without them, with the fault named."""
    account = whole.payer_bill(payer_id).account
    step = house.settings.cash_rounding
    wanted, given, fault = account.due, None, None
    try:
        if amount:
            wanted = read_money(house, amount, "amount")
            if wanted <= 0 or wanted > account.due:
                due = house.settings.currency.text(account.due)
                raise Refused("amount", f"From 0.01 up to the {due} that is due can be taken.", "amount")
        if handed:
            given = read_money(house, handed, "handed")
    except Refused as refusal:
        fault, wanted, given = refusal, account.due, None
    cash = cash_due(wanted, step) if wanted == account.due else wanted
    if given is not None and given < cash and fault is None:
        text = house.settings.currency.text
        what = f"{text(given)} does not cover {text(cash)}. To take only a part, put the part into the amount."
        fault, given = Refused("handed", what, "handed"), None
    notes = likely_cash(cash, catalogue.list_denominations(house.connection), 10**house.settings.currency.digits)
    asks = [ask for ask in whole.asks if ask.payer == payer_id]
    tip = whole.payer(payer_id)
    offers = _tips(whole, payer_id)
    return PayPad(
        bill=account.total,
        tip=account.tip,
        paid=account.paid,
        due=account.due,
        amount=wanted,
        part=wanted != account.due,
        cash=cash,
        tips=offers,
        other_tip=bool(tip.tip_amount) and not any(offer.chosen for offer in offers),
        machines=(machines := _machines(house, actor, machine)),
        machine=next((m.name for m in machines if m.chosen), ""),
        notes=[(note, note - cash) for note in notes],
        handed=given,
        change=0 if given is None else given - cash,
        open_ask=next((ask for ask in asks if ask.open), None),
        last_ask=asks[-1] if asks and asks[-1].state in ("declined", "cancelled", "not sent") else None,
        payments=[payment for payment in whole.payments if payment.payer == payer_id],
        held=(held := held_for(house, whole.head.id)),
        on_held=held is not None and machine in ("", HELD) and given is None,
        over=over_hold(wanted, held.amount) if held else 0,
        account=_account(house, whole),
        tippable=any(line.report_group != DEPOSIT for line in whole.standing),
        fault=fault,
    )


def _account(house: House, whole: Whole) -> str:
    """The name of the ticket's person, when they have an account."""
    if whole.head.person is None:
        return ""
    person = known(house, whole.head.person)
    return person.name if person.company else ""


def _tips(whole: Whole, payer_id: int) -> list[TipOffer]:
    payer, basis = whole.payer(payer_id), {"net": net_of(whole, payer_id)}
    none = not payer.tip_percent and not payer.tip_amount
    offers = [TipOffer("", 0, none)]
    for percent in OFFERED:
        amount = tip_amount(Tip(str(payer_id), percent=Fraction(percent)), basis)
        offers.append(TipOffer(percent, amount, payer.tip_percent == percent))
    return offers


def net_of(whole: Whole, payer_id: int) -> int:
    """A payer's share of the lines, rounded once: what a tip in percent is reckoned on."""
    return dict(zip((bill.id for bill in whole.bill.payers), whole.bill.payer_nets, strict=True))[str(payer_id)]


def _machines(house: House, actor: Actor, wanted: str) -> list[MachineOffer]:
    busy = {ask.machine: ask for ask in tenders.open_asks(house.connection) if ask.state != "unknown"}
    names = list(house.devices.machines)
    own = wanted if wanted in names else actor.till.machine
    if own in busy and not wanted:
        own = next((name for name in names if name not in busy), own)
    return [MachineOffer(name, "busy with another guest" if name in busy else "", name == own) for name in names]


@dataclass(frozen=True, slots=True)
class ChargeWay:
    """A charge shared one way and the other: minor units by payer's letter."""

    id: int
    label: str
    share: str
    even: tuple[tuple[str, int], ...]
    proportional: tuple[tuple[str, int], ...]


def charge_ways(whole: Whole) -> list[ChargeWay]:
    """Both figures of every charge, so that they can be seen before choosing."""
    return [
        ChargeWay(
            c.id, c.label, c.share, _charge_parts(whole, c.id, "even"), _charge_parts(whole, c.id, "proportional")
        )
        for c in whole.charges
        if whole.shared and whole.head.split == "shares"
    ]


def _charge_parts(whole: Whole, charge: int, share: str) -> tuple[tuple[str, int], ...]:
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
        if (row.kind, row.ref) == ("charge", str(charge))
    )
