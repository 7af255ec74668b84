"""Forms: bookings."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Key, Lent, MaybeId, Text, WithFile


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
