"""The pipeline of every act: one transaction, applied once for one request, and an entry in the journal.

Rules here
- a request's key is bound to the kind of act and to what it is about: the same key for something else is refused
- the same request again gives the first answer and does nothing
- an act names the right that it needs; whose it was, one's own or lent, is looked at before anything else
- acts on a ticket go on from here: desk/tickets/change.py
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import NOTHING, Booked
from abrazo.core.journal import Fact, Kind, Personal
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import REFUSED_BY, Right, need
from abrazo.store import journal
from abrazo.store.db import Connection, atomic

FactGiven = Fact | Personal | None
Facts = dict[str, FactGiven]


class Act:
    """An act under way. `done` holds the answer when this request was carried out before, `answer` the one to keep.

    `by` is who lent the right that it needs; None when it was one's own.
    """

    def __init__(self, house: House, actor: Actor, needs: Right | None = None) -> None:
        self.house = house
        self.actor = actor
        self.by = need(actor, needs) if needs else None
        self.at = house.stamp()
        self.done: str | None = None
        self.answer = ""

    @property
    def connection(self) -> Connection:
        """The connection of its transaction."""
        return self.house.connection

    @property
    def day(self) -> int:
        """The open day's id. Refused when none is open."""
        return self.house.day().id

    def record(self, kind: Kind, ticket: int | None = None, booked: Booked = NOTHING, /, **facts: FactGiven) -> None:
        """Put into the journal what was done."""
        write_entry(self.house, self.actor, self.at, kind, ticket, booked, **facts)


def write_entry(
    house: House,
    actor: Actor,
    at: str,
    kind: Kind,
    ticket: int | None = None,
    booked: Booked = NOTHING,
    /,
    **facts: FactGiven,
) -> None:
    """Put an entry into the journal; facts that are None are left out, what is `Personal` stands apart."""
    plain = {name: fact for name, fact in facts.items() if fact is not None and not isinstance(fact, Personal)}
    texts = {name: fact.text for name, fact in facts.items() if isinstance(fact, Personal)}
    who = (house.day().id, actor.till.id, actor.staff.id)
    journal.add(house.connection, journal.Entry(0, at, *who, ticket, None, kind, plain, texts), booked)


def done_before(house: House, key: str, kind: str, about: str = "") -> str | None:
    """The answer of a request that was carried out before. Refused when its key belongs to another act."""
    assert key, kind  # without a key it would be done once for all time
    found = journal.read_act(house.connection, key)
    if found is None:
        return None
    if (found.kind, found.about) != (kind, about):
        raise Refused(Code.PAGE_EXPIRED)
    return found.answer


@contextmanager
def fresh(house: House, actor: Actor | None = None) -> Iterator[None]:
    """One transaction, inside which everything is read anew; what is read after it, done or refused, is anew too.

    A right that was missing to the actor stands in the journal, though nothing else of the act does.
    """
    try:
        with atomic(house.connection):
            house.forget()
            yield
    except Refused as refusal:
        if actor is not None:
            note_refused(house, actor, refusal)
        raise
    finally:
        house.forget()


def note_refused(house: House, actor: Actor, refusal: Refused) -> None:
    """Put into the journal of the open day that somebody was refused for want of a right; other refusals are not."""
    right = REFUSED_BY.get(refusal.code)
    if right is not None:
        with noting(house) as note:
            note(actor, Kind.RIGHT_REFUSED, right=right)


@contextmanager
def noting(house: House) -> Iterator[Callable[..., None]]:
    """Write down what somebody did that changes nothing in the books, `note(actor, kind, **facts)`; without a day, not.

    What an owner looks at: a refused right, a file that went out, a stand-in that was told to fail.
    """
    house.forget()
    with atomic(house.connection):
        at, is_open = house.stamp(), house.open_day() is not None

        def note(actor: Actor, kind: Kind, **facts: FactGiven) -> None:
            if is_open:
                write_entry(house, actor, at, kind, **facts)

        yield note
    house.forget()


@contextmanager
def acting(
    house: House, actor: Actor, kind: str, key: str | None = None, about: str = "", needs: Right | None = None
) -> Iterator[Act]:
    """One act that is not about a ticket. Without a key it may be repeated, since it says what shall be.

    Raises Refused when the actor has not the right that it needs, or the key belongs to another act.
    """
    with fresh(house, actor):
        act = Act(house, actor, needs)
        if key is not None:
            act.done = done_before(house, key, kind, about)
        yield act
        if key is not None and act.done is None:
            journal.add_act(house.connection, key, kind, about, act.at, act.answer)
