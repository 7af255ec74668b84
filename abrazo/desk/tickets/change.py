"""Changing a ticket: one transaction with version check, idempotency key, journal, and what must hold after it.

After every change
- series are used and benefits of memberships apply by themselves, unless they are kept for another day
- nobody has paid, or is just being charged, more than their bill
- deposits of the ticket's jobs are applied, first and at most what is due
- who owes nothing and has paid is settled and keeps their bill, whatever comes later
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import NOTHING, Booked
from abrazo.core.journal import Kind
from abrazo.core.money import total
from abrazo.core.states import TicketState
from abrazo.desk.act import FactGiven, done_before, fresh, write_entry
from abrazo.desk.context import Actor, House, Stale
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets import at_rest
from abrazo.desk.tickets.benefits import fit_benefits
from abrazo.desk.tickets.counter_lock import check_touch
from abrazo.desk.tickets.deposits import fit_deposits
from abrazo.desk.tickets.hires import fit_hires
from abrazo.desk.tickets.layaways import fit_layaway
from abrazo.desk.tickets.memberships import fit_memberships
from abrazo.desk.tickets.series import fit_series
from abrazo.desk.tickets.snapshot import TicketSnapshot, kept_cells, load_ticket
from abrazo.store import guests as guests_kept
from abrazo.store import journal
from abrazo.store import ticket as ticket_store

# What machines report by themselves: it changes no line and no share, and what is due is checked again anyway.
BY_THEMSELVES = (Kind.CARD_PAID, Kind.CARD_ENDED, Kind.CARD_SILENT)


class TicketChange:
    """One change of one ticket, under way. `done` holds the answer when this request was carried out before.

    `by` is who lent the right that it needs; None when it was one's own.
    """

    def __init__(self, house: House, actor: Actor, whole: TicketSnapshot, needs: Right | None = None) -> None:
        self.house = house
        self.actor = actor
        self.whole = whole
        self.by = need(actor, needs) if needs else None
        self.at = house.stamp()
        self.day = house.day().id
        self.done: str | None = None
        self.answer = ""
        self._journalled = 0  # rows that went into the journal and so changed no ticket
        self._read_at = self._changes()

    @property
    def id(self) -> int:
        """The ticket's id."""
        return self.whole.head.id

    def wrote(self, kind: Kind, booked: Booked = NOTHING, /, **facts: FactGiven) -> None:
        """Put into the journal what was done. The ticket has its new version already."""
        before = self._changes()
        write_entry(self.house, self.actor, self.at, kind, self.id, booked, **facts)
        self._journalled += self._changes() - before

    def _changes(self) -> int:
        return self.house.connection.total_changes - self._journalled

    def reread(self) -> TicketSnapshot:
        """The ticket as it stands now; reckoned anew when anything but the journal was written since."""
        if self._read_at != self._changes():
            self.whole, self._read_at = load_ticket(self.house, self.id), self._changes()
        return self.whole

    def reckoned(self) -> dict[int, at_rest.State]:
        """What the ticket stands at, if it was reckoned so: the page that follows need not do it again."""
        if self.house.memo is None or self._read_at != self._changes():
            return {}
        return at_rest.states_of(self.house, [self.id])


@dataclass(frozen=True, slots=True)
class OnTicket:
    """The ticket that an act is on, as who acts has seen it.

    `version` None skips the check (answers of devices come when they come). `key` is the request's: an act that moves
    money or adds something is done once under it, however often it is asked for.
    """

    id: int
    version: int | None
    key: str = ""


@contextmanager
def changing(house: House, actor: Actor, on: OnTicket, kind: str = "") -> Iterator[TicketChange]:
    """Change an open ticket; an act with a `kind` is done once under its key.

    Raises Stale when the ticket is not at `version`, Refused when it is closed or a rule would be broken.
    """
    with fresh(house, actor):
        whole = load_ticket(house, on.id)
        edit = TicketChange(house, actor, whole)
        if kind:
            edit.done = done_before(house, on.key, kind, f"ticket {on.id}")
            if edit.done is not None:
                yield edit
                return
        if on.version is not None and whole.head.version != on.version:
            changes = journal.since(house.connection, on.id, on.version)
            if on.version > whole.head.version or any(entry.kind not in BY_THEMSELVES for entry in changes):
                raise Stale(changes)
        check_touch(house, actor, whole.head)
        if whole.head.state != TicketState.OPEN:
            raise Refused(Code.TICKET_CLOSED, number=whole.head.number)
        ticket_store.touch(house.connection, on.id)
        yield edit
        check_and_settle(edit)
        reckoned = edit.reckoned()
        if kind:
            journal.add_act(house.connection, on.key, kind, f"ticket {on.id}", edit.at, edit.answer)
    at_rest.remember(house, reckoned, dict.fromkeys(reckoned, edit.whole))


@contextmanager
def correcting(
    house: House, actor: Actor, on: OnTicket, kind: str, about: str = "", needs: Right | None = None
) -> Iterator[TicketChange]:
    """Correct a closed ticket, as one act that needs a right. Refused when it is open: then it is simply changed."""
    with fresh(house, actor):
        edit, about = TicketChange(house, actor, load_ticket(house, on.id), needs), about or f"ticket {on.id}"
        edit.done = done_before(house, on.key, kind, about)
        if edit.done is None:
            if edit.whole.head.state != TicketState.CLOSED:
                raise Refused(Code.TICKET_NOT_CLOSED, number=edit.whole.head.number)
            ticket_store.touch(house.connection, on.id)
        yield edit
        if edit.done is None:
            journal.add_act(house.connection, on.key, kind, about, edit.at, edit.answer)


@contextmanager
def opening(house: House, actor: Actor, make: Callable[[], int], key: str, kind: str) -> Iterator[TicketChange]:
    """Open a ticket with `make` and put things on it, as one act; the answer is its id."""
    with fresh(house, actor):
        done = done_before(house, key, kind)
        edit = TicketChange(house, actor, load_ticket(house, int(done) if done else make()))
        edit.done, edit.answer = done, str(edit.id)
        yield edit
        if done is None:
            check_and_settle(edit)
            journal.add_act(house.connection, key, kind, "", edit.at, edit.answer)


@contextmanager
def changing_both(
    house: House, actor: Actor, on: OnTicket, other_id: int, kind: str
) -> Iterator[tuple[TicketChange, TicketChange]]:
    """Change two open tickets in one act; `version` is checked on the first, which may end by it."""
    if on.id == other_id:
        raise Refused(Code.SAME_TICKET, "to")
    with changing(house, actor, on, kind) as edit:
        other = TicketChange(house, actor, load_ticket(house, other_id))
        other.done = edit.done
        if edit.done is None:
            check_touch(house, actor, other.whole.head)
            if other.whole.head.state != TicketState.OPEN:
                raise Refused(Code.OTHER_TICKET_CLOSED, "to", number=other.whole.head.number)
            ticket_store.touch(house.connection, other_id)
        yield edit, other
        if edit.done is None:
            check_and_settle(other)


def check_and_settle(edit: TicketChange) -> None:
    """What must hold after every change, of an edit under way. Refused when it does not."""
    try:
        fit_memberships(edit)
        fit_hires(edit)
        fit_series(edit)
        fit_benefits(edit)
        fit_deposits(edit)
        whole = edit.reread()
    except Refused as refusal:
        if refusal.code == Code.ABOVE_DUE:
            raise Refused(Code.CHANGES_PAID) from None
        if refusal.code == Code.STATED_TOO_MUCH:
            raise Refused(Code.STATED_ABOVE_REST) from None
        if refusal.code == Code.FEES_TOO_MUCH:
            raise Refused(Code.FEES_BELOW_ZERO, "fees") from None
        if refusal.code in (Code.NOBODY_PAYS, Code.TWO_PAYERS):
            raise Refused(Code.NO_PAYER) from None
        raise
    connection, changed = edit.house.connection, False
    for payer in whole.payers:
        bill = whole.payer_bill(payer.id)
        if whole.under_way(payer.id) > bill.account.due:
            raise Refused(Code.BEING_CHARGED, payer=payer.letter)
        if bill.account.credit != total(p.credit for p in whole.taken if p.payer == payer.id):
            raise Refused(Code.CHANGES_PAID)
        settled = bill.account.due == 0 and bill.account.paid > 0
        if settled == bool(payer.settled_at):
            continue
        if settled:
            guests_kept.settle_payer(connection, payer.id, edit.at, kept_cells(bill))
            guests_kept.set_tip(connection, payer.id, None, bill.account.tip or None)
        else:
            guests_kept.unsettle_payer(connection, payer.id)
        changed = True
    if changed:
        edit.reread()  # refuses what could not be reckoned with these kept
    fit_layaway(edit)
