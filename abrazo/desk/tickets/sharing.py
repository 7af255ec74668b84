"""Sharing a bill out. Who has settled keeps what they paid; everything here concerns the others."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.money import total
from abrazo.core.states import Share, Split
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.deposits import lift_deposits
from abrazo.desk.tickets.starting import letter
from abrazo.desk.tickets.ticket_lines import about
from abrazo.store import charges as charges_kept
from abrazo.store import guests as guests_kept
from abrazo.store import lines as lines_kept
from abrazo.store import ticket as ticket_store
from abrazo.store.guests import GuestRow, PayerRow

MOST_PARTS = 20
STATED_LETTERS = "ZYXWVU"  # of those who give a stated amount; guests and parts begin at A
WHOLE_TABLE = "∗"


def by_seat(house: House, actor: Actor, on: OnTicket) -> None:
    """Each guest pays for their own; what belongs to the whole table is shared by all."""
    with changing(house, actor, on) as edit:
        lift_deposits(edit)
        if _parts_are_settled(edit):
            raise Refused(Code.PARTS_PAID)
        ticket_store.set_split(house.connection, on.id, Split.SHARES)
        for guest in _unsettled_guests(edit):
            own = next((p for p in edit.whole.payers if p.letter == guest.letter and not p.settled_at), None)
            payer = own.id if own else guests_kept.add_payer(house.connection, on.id, guest.letter, _place(edit, guest))
            guests_kept.set_guest_payer(house.connection, guest.id, payer)
        tidy(edit)
        edit.wrote(Kind.SHARED_BY_SEAT)


def equal_parts(house: House, actor: Actor, on: OnTicket, parts: int) -> None:
    """What is not settled yet goes in equal parts to `parts` payers."""
    if not 2 <= parts <= MOST_PARTS:
        raise Refused(Code.EQUAL_PARTS, "parts", most=MOST_PARTS)
    with changing(house, actor, on) as edit:
        lift_deposits(edit)
        whole = edit.whole
        stated = [p for p in whole.payers if p.stated]
        busy = [p for p in whole.payers if not p.settled_at and p not in stated and _has_paid(edit, p)]
        if len(busy) > parts:
            raise Refused(Code.TOO_MANY_PART_PAID, "parts", count=len(busy))
        for guest in _unsettled_guests(edit):
            guests_kept.set_guest_payer(house.connection, guest.id, None)
        ticket_store.set_split(house.connection, on.id, Split.EQUAL)
        taken = {p.letter for p in whole.payers if p.settled_at or p in busy or p in stated}
        names = [name for name in map(letter, range(parts + len(taken))) if name not in taken]
        _end_idle(edit, keep=[*busy, *stated])
        for index in range(parts - len(busy)):
            guests_kept.add_payer(house.connection, on.id, names[index], 1000 + index)
        edit.reread()
        edit.wrote(Kind.SHARED_EQUALLY, parts=parts)


def undo(house: House, actor: Actor, on: OnTicket) -> None:
    """One payer again for all that is not settled."""
    with changing(house, actor, on) as edit:
        lift_deposits(edit)
        busy = [p for p in edit.whole.payers if not p.settled_at and _has_paid(edit, p)]
        if len(busy) > 1:
            names = " and ".join(p.letter for p in busy)
            raise Refused(Code.PART_PAID_EACH, names=names)
        if all(payer.settled_at for payer in edit.whole.payers):
            raise Refused(Code.ALL_SETTLED)
        if _parts_are_settled(edit):
            _end_idle(edit, keep=busy or [p for p in edit.whole.payers if not p.settled_at][:1])
            edit.wrote(Kind.SHARED_REST)
            return
        ticket_store.set_split(house.connection, on.id, Split.SHARES)
        guests = _unsettled_guests(edit)
        _end_idle(edit, keep=busy)
        one = busy[0].id if busy else guests_kept.add_payer(house.connection, on.id, WHOLE_TABLE, 0)
        guests_kept.set_stated(house.connection, one, None)
        for guest in guests:
            guests_kept.set_guest_payer(house.connection, guest.id, one)
        tidy(edit)
        edit.wrote(Kind.SHARING_UNDONE)


def state_amount(house: House, actor: Actor, on: OnTicket, amount: int, payer_id: int = 0) -> None:
    """Somebody gives a stated amount, whoever had what; the others share the rest as they do.

    A payer who is there already, or with 0 one more.
    """
    with changing(house, actor, on) as edit:
        lift_deposits(edit)
        payer = _may_state(edit, payer_id) if payer_id else None
        rest = total(
            edit.whole.payer_bill(p.id).account.unpaid
            for p in edit.whole.payers
            if not p.settled_at and (not p.stated or p.id == payer_id)
        )
        if not 0 < amount <= rest:
            raise Refused(Code.STATED_AMOUNT, "stated", rest=rest)
        if payer is not None:
            if not payer.stated and not _another(edit, payer_id):
                raise Refused(Code.NOBODY_FOR_REST, "stated")
            guests_kept.set_stated(house.connection, payer_id, amount)
        letter = payer.letter if payer else _one_more(edit, amount)
        edit.wrote(Kind.AMOUNT_STATED, payer=letter, amount=amount)


def state_none(house: House, actor: Actor, on: OnTicket, payer_id: int) -> None:
    """Somebody gives no stated amount after all: a seat pays for what it had again, who stood for nobody goes."""
    with changing(house, actor, on) as edit:
        lift_deposits(edit)
        payer = _may_state(edit, payer_id)
        if payer.stated is None:
            raise NotFound(f"payer {payer_id} gives no stated amount")
        guests_kept.set_stated(house.connection, payer_id, None)
        if gives_alone(payer):
            guests_kept.end_payer(house.connection, payer_id, edit.at)
        edit.wrote(Kind.AMOUNT_NOT_STATED, payer=payer.letter)


def _may_state(edit: TicketChange, payer_id: int) -> PayerRow:
    payer = edit.whole.payer(payer_id)
    if payer.settled_at or _has_paid(edit, payer):
        raise Refused(Code.PAYER_SETTLED, payer=payer.letter)
    return payer


def _one_more(edit: TicketChange, amount: int) -> str:
    """A payer who stands for nobody and gives so much; gives the letter."""
    taken = {p.letter for p in edit.whole.payers}
    free = [name for name in STATED_LETTERS if name not in taken]
    if not free:
        raise Refused(Code.TOO_MANY_STATED, "stated", count=len(STATED_LETTERS))
    place = 2000 + len(STATED_LETTERS) - len(free)
    guests_kept.add_payer(edit.house.connection, edit.id, free[0], place, amount)
    return free[0]


def _another(edit: TicketChange, payer_id: int) -> bool:
    """Whether somebody else is left to give the rest."""
    return any(p.id != payer_id and not p.settled_at and not p.stated for p in edit.whole.payers)


def pay_for(house: House, actor: Actor, on: OnTicket, payer_id: int, guest_letter: str) -> None:
    """A payer takes over a guest; when they stand for the guest already, the guest pays for themselves again."""
    with changing(house, actor, on) as edit:
        lift_deposits(edit)
        payer = edit.whole.payer(payer_id)
        guest = _guest(edit, guest_letter)
        _needs_seats(edit)
        if payer.stated:
            raise Refused(Code.GIVES_STATED, payer=payer.letter)
        if payer.settled_at or _settled(edit, guest):
            raise Refused(Code.ONE_SETTLED)
        if guest.payer == payer_id:
            payer_id = guests_kept.add_payer(house.connection, on.id, guest.letter, _place(edit, guest))
        guests_kept.set_guest_payer(house.connection, guest.id, payer_id)
        tidy(edit)
        if guest.payer != payer.id:
            edit.wrote(Kind.PAYS_FOR, payer=payer.letter, guest=guest.letter)
        else:
            edit.wrote(Kind.PAYS_ALONE, guest=guest.letter)


def pick_line(house: House, actor: Actor, on: OnTicket, line_id: int, payer_id: int, how: str) -> None:
    """What a payer has of a line: `only` all of it, `with` a part too, `not` nothing; `all` gives it to the table."""
    with changing(house, actor, on) as edit:
        line = edit.whole.line(line_id)
        edit.whole.payer(payer_id)
        _needs_seats(edit)
        mine = [guest.id for guest in edit.whole.guests_of(payer_id)]
        if not mine:
            raise Refused(Code.NO_SEATS)
        everyone = [guest.id for guest in edit.whole.guests]
        now = [guest for guest, weight in line.shares if weight] or everyone
        wanted = {
            "only": mine,
            "with": [guest for guest in everyone if guest in now or guest in mine],
            "not": [guest for guest in now if guest not in mine],
            "all": everyone,
        }.get(how)
        if wanted is None:
            raise NotFound(f"no way {how!r} of picking a line")
        if not wanted:
            raise Refused(Code.LINE_WOULD_BE_NOBODYS, line=line.label)
        shares = () if wanted == everyone else tuple((guest, 1) for guest in wanted)
        lines_kept.set_shares(house.connection, line_id, shares)
        letters = [guest.letter for guest in edit.whole.guests if guest.id in wanted]
        edit.wrote(Kind.LINE_GIVEN, **about(line), guests="+".join(letters) if shares else None)


def share_charge(house: House, actor: Actor, on: OnTicket, charge_id: int, share: str) -> None:
    """A charge goes evenly, or in proportion to what each had."""
    if share not in set(Share):
        raise NotFound(f"no way {share!r} of sharing a charge")
    with changing(house, actor, on) as edit:
        charge = next((c for c in edit.whole.charges if c.id == charge_id), None)
        if charge is None:
            raise NotFound(f"no charge {charge_id}")
        charges_kept.set_charge_share(house.connection, on.id, charge_id, Share(share))
        edit.wrote(Kind.CHARGE_SHARED, charge=charge_id, label=Personal(charge.label), share=share)


def choose_fees(house: House, actor: Actor, on: OnTicket, payer_id: int, share: str) -> None:
    """How one payer takes the charges: evenly, in proportion, or with '' as the others. The last takes the rest."""
    if share and share not in set(Share):
        raise NotFound(f"no way {share!r} of taking the charges")
    with changing(house, actor, on) as edit:
        payer = edit.whole.payer(payer_id)
        if payer.settled_at:
            raise Refused(Code.PAYER_SETTLED, payer=payer.letter)
        _needs_seats(edit)
        guests_kept.set_fees(house.connection, payer_id, Share(share) if share else None)
        edit.wrote(Kind.FEES_TAKEN, payer=payer.letter, share=share or "as the others")


# ---- who takes part


def _has_paid(edit: TicketChange, payer: PayerRow) -> bool:
    busy = [p.payer for p in edit.whole.taken] + [a.payer for a in edit.whole.open_requests]
    return payer.id in busy


def _needs_seats(edit: TicketChange) -> None:
    if edit.whole.head.split == Split.EQUAL:
        raise Refused(Code.EQUAL_PARTS_KNOW_NO_SEATS)


def _guest(edit: TicketChange, guest_letter: str) -> GuestRow:
    found = next((g for g in edit.whole.guests if g.letter == guest_letter), None)
    if found is None:
        raise NotFound(f"no guest {guest_letter}")
    return found


def _place(edit: TicketChange, guest: GuestRow) -> int:
    """Where a payer for this guest stands: payers follow their guests, and guests their letters."""
    return next(place for place, other in enumerate(edit.whole.guests) if other.id == guest.id)


def _settled(edit: TicketChange, guest: GuestRow) -> bool:
    return any(p.id == guest.payer and p.settled_at for p in edit.whole.payers)


def _unsettled_guests(edit: TicketChange) -> list[GuestRow]:
    return [guest for guest in edit.whole.guests if not _settled(edit, guest)]


def _parts_are_settled(edit: TicketChange) -> bool:
    """Whether somebody has paid an equal part; a part belongs to no seat, so the way of sharing stays."""
    return edit.whole.head.split == Split.EQUAL and any(p.settled_at and not p.stated for p in edit.whole.payers)


def _end_idle(edit: TicketChange, keep: list[PayerRow]) -> None:
    for payer in edit.whole.payers:
        if not payer.settled_at and payer not in keep:
            guests_kept.end_payer(edit.house.connection, payer.id, edit.at)


def gives_alone(payer: PayerRow) -> bool:
    """Whether a payer stands for nobody and gives a stated amount: not a seat that gives one."""
    return payer.stated is not None and payer.letter in STATED_LETTERS


def tidy(edit: TicketChange) -> None:
    """End payers who stand for nobody; letter and place of the others follow their first guest."""
    connection = edit.house.connection
    guests = guests_kept.list_guests(connection, edit.id)
    for payer in guests_kept.list_payers(connection, edit.id):
        mine = [guest for guest in guests if guest.payer == payer.id]
        if gives_alone(payer):
            continue
        if mine:
            everyone = len(mine) == len(guests) > 1
            place = guests.index(mine[0])
            guests_kept.set_payer(connection, payer.id, WHOLE_TABLE if everyone else mine[0].letter, place)
        elif _has_paid(edit, payer):
            raise Refused(Code.PAYER_SETTLED, payer=payer.letter)
        else:
            guests_kept.end_payer(connection, payer.id, edit.at)
    edit.reread()
