"""Forms: moving."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Ids, Key, MaybeId, Text, Texts


class Move(Form):
    """All, some lines or a guest; to a table or another ticket."""

    version: Id
    key: Key
    to: Text = ""
    lines: Ids = ()
    guests: Texts = ()
    q: Text = ""
    find: Text = ""  # the targets are looked for, nothing moves
    sure: Text = ""  # that a ticket goes into another one
    shared: Text = ""  # what goes of what guests share with others: stay or go


class Unmove(Form):
    """A ticket that went to a free table is where it was before."""

    version: Id
    key: Key


class Unmerge(Form):
    """A sale that was put into this ticket is one of its own again."""

    version: Id
    key: Key
    back: Id
    lines: Ids = ()


class HandTo(Form):
    """Somebody else serves it from now on."""

    version: Id
    staff: Text = ""


class Aside(Form):
    """On hold under a name."""

    version: Id
    name: Text = ""


class Back(Form):
    """A ticket on hold is brought back."""

    version: MaybeId = 0  # needed only for other prices
    prices: Text = ""
