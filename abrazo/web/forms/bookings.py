"""Forms: bookings."""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict

from abrazo.web.forms.base import Form, Id, Key, Lent, MaybeId, Text, Texts, WithFile


class CheckOut(Form):
    """Onto a ticket of its own, alone or with another booking or job of the household."""

    key: Key
    along: MaybeId = 0


class State(Form):
    """Whether somebody came."""

    state: Text = ""


class Price(Lent):
    """The price of a booking that has none yet."""

    price: Text = ""


class Add(Form):
    """Somebody of the household comes along on an open ticket."""

    version: Id
    booking: Id
    key: Key


class Visit(Form):
    """A booking as it is typed."""

    key: Key
    service: Text = ""
    staff: Text = ""
    date: Text = ""
    time: Text = ""


class Book(Visit):
    """The next visit, made where the last one was paid or on the person's sheet."""

    ticket: MaybeId = 0


class Plan(Visit):
    """A booking that is made or changed; `pick` is a free time that was touched: who, date and time."""

    person: MaybeId = 0
    seen: MaybeId = 0
    name: Text = ""
    phone: Text = ""
    party: Text = ""
    weeks: Text = ""
    addons: Texts = ()
    note: Text = ""
    pick: Text = ""

    @property
    def picked(self) -> dict[str, str]:
        """What a touched free time puts into the form."""
        staff, date, time = (*self.pick.split(), "", "", "")[:3]
        return {"staff": staff, "date": date, "time": time} if time else {}


class Move(Form):
    """A booking that was dragged to a place on the drawing of a day, or of several from that on."""

    booking: Id
    day: Text = ""
    span: Literal["1", "3", "7"] = "1"
    x: Text = ""
    y: Text = ""


class Cancel(Form):
    """A booking is cancelled, for a reason."""

    key: Key
    reason: Text = ""


class Deposit(Form):
    """A booking's deposit is taken; what of it goes back, to its card or from the drawer; a fee is kept or charged."""

    key: Key
    to: Text = ""


class KeepDeposit(Lent):
    """The house keeps what is left of a deposit."""

    key: Key
    reason: Text = ""


class Hours(Form):
    """Somebody's hours: a text for each weekday, named day-1 (Monday) to day-7."""

    model_config = ConfigDict(extra="allow")

    staff: Text = ""
    seen: MaybeId = 0


class Terms(Form):
    """A service's deposit and fee."""

    item: Text = ""
    deposit: Text = ""
    fee: Text = ""
    seen: MaybeId = 0


class BookForNew(Visit):
    """The next visit of a walk-in who is not known yet."""

    name: Text = ""
    phone: Text = ""
    another: Text = ""


class QueueUp(Form):
    """Into the queue, or served at once: name, phone, service and staff in one line."""

    key: Key
    what: Literal["serve", "queue"]
    name: Text = ""
    phone: Text = ""
    service: Text = ""
    staff: Text = ""
    wants: Text = ""


class Serve(Form):
    """A walk-in is served, or left."""

    key: Key
    what: Literal["", "left"] = ""
    choice: Text = ""
    staff: Text = ""


class Read(WithFile):
    """Read bookings from an iCalendar file; all or none."""

    key: Key
