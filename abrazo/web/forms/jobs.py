"""Forms: jobs."""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict

from abrazo.core.states import JobPaper
from abrazo.web.forms.base import Form, Id, Key, Lent, MaybeId, Text, Texts, Yes


class Tasks(Form):
    """What is to be done to a thing: ticked, or with a measure in `quantity-ITEM`, and pieces in `pieces-ITEM`."""

    model_config = ConfigDict(extra="allow")

    tasks: Texts = ()
    surcharges: Texts = ()

    def chosen(self) -> dict[str, tuple[str, str]]:
        """Quantity and pieces, as typed, of each item that is ticked or has a measure."""
        measured, pieces = self.numbered("quantity"), self.numbered("pieces")
        items = dict.fromkeys((*self.tasks, *(item for item, typed in measured.items() if typed.strip())))
        return {item: (measured.get(item, "").strip() or "1", pieces.get(item, "")) for item in items}


class DropOff(Tasks, Lent):
    """Take the job in; its tag is printed."""

    key: Key
    sure: Yes = False
    other_date: Text = ""
    person: MaybeId = 0
    ticket: MaybeId = 0
    q: Text = ""
    name: Text = ""
    phone: Text = ""
    another: Text = ""  # somebody else with a phone that is known
    thing: Text = ""
    note: Text = ""
    date: Text = ""
    time: Text = ""
    place: Text = ""
    staff: Text = ""
    then: Text = ""  # another: one more thing of the same customer follows
    more_item: Text = ""
    more_label: Text = ""
    more_price: Text = ""
    more_quantity: Text = ""
    deposit: Text = ""
    notes: Texts = ()


class Change(Lent):
    """Everything of a job: `price-TASK`, `quantity-TASK`, `off-TASK`, and one more task."""

    model_config = ConfigDict(extra="allow")

    key: Key
    seen: MaybeId = 0
    thing: Text = ""
    note: Text = ""
    date: Text = ""
    time: Text = ""
    place: Text = ""
    staff: Text = ""
    more_item: Text = ""
    more_label: Text = ""
    more_price: Text = ""
    more_quantity: Text = ""


class Agree(Form):
    """Who brought it says yes to more, or a job is called off: how, or why."""

    key: Key
    how: Text = ""
    reason: Text = ""


class Add(Form):
    """A ready job comes along on an open ticket."""

    version: Id
    job: Id
    key: Key


class State(Form):
    """Where a job stands from now on."""

    key: Key
    state: Text = ""
    then: Text = ""


class Settle(Form):
    """Onto a ticket with the deposit taken off; with a machine named, the rest is charged at once."""

    key: Key
    machine: Text = ""


class HandOver(Form):
    """Some pieces, in `pieces-NUMBER`, or all; from a paid ticket, that is closed too."""

    model_config = ConfigDict(extra="allow")

    key: Key
    how: Literal["all", "some"]
    note: Text = ""
    ticket: MaybeId = 0


class Undo(Form):
    """A hand-over was a mistake."""

    batch: Id


class GiveBack(Form):
    """What is left of the deposit, from the drawer or to the card that it came from."""

    key: Key
    to: Literal["", "card"] = ""
    ticket: MaybeId = 0


class KeepDeposit(Lent):
    """What is left of the deposit stays with the house, as its terms say."""

    key: Key
    reason: Text = ""


class PrintPaper(Form):
    """Print a job's tag or receipt."""

    key: Key
    what: JobPaper
