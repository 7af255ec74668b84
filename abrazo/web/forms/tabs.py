"""Forms: tabs."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Key, MaybeId, Text


class OpenTab(Form):
    """Open a tab; with a sum to hold, the machine is asked at once."""

    key: Key
    how: Literal["", "with", "without"] = ""
    person: MaybeId = 0
    name: Text = ""
    hold: Text = ""
    machine: Text = ""


class Hold(Form):
    """Hold a sum on the card of a tab."""

    key: Key
    hold: Text = ""
    machine: Text = ""


class SettleOnHeld(Form):
    """Take a payer's sum from the held card."""

    version: Id
    payer: Id
    hold: Id
    key: Key
    take: Text = ""


class LetGo(Form):
    """Release what is held."""

    hold: Id
    key: Key
