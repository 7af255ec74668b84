"""Forms: taking lines off."""

from __future__ import annotations

from abrazo.web.forms.base import Id, Lent, MaybeId, Text


class Clear(Lent):
    """Everything off the ticket; with a reason when something was made or billed."""

    version: Id
    line: MaybeId = 0
    reason: Text | None = None  # in their own words; None where it was not asked for yet
    said: Text = ""  # the one that was touched
    number: Text = ""

    @property
    def why(self) -> str:
        """The reason in their own words, else the one that was touched."""
        return (self.reason or "").strip() or self.said


class Remove(Clear):
    """A line off the ticket; with a reason when it was made or billed."""

    line: Id


class Quantity(Remove):
    """Another number of a line; fewer with a reason when they were made or billed."""
