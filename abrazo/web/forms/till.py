"""Forms: till."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import ConfigDict

from abrazo.web.forms.base import Form, Key, Lent, Text, WithFile


class Counted(Form):
    """Pieces by denomination, in fields `n2000` for pieces of 20.00, or a total."""

    model_config = ConfigDict(extra="allow")

    total: Text = ""

    def pieces(self, values: Sequence[int]) -> dict[str, str]:
        """What was typed for each denomination, in minor units, and as the total."""
        extra: dict[str, str] = self.model_extra or {}
        return {**{f"n{value}": extra.get(f"n{value}", "").strip() for value in values}, "total": self.total.strip()}


class Petty(Lent):
    """Paid out or in."""

    key: Key
    direction: Text = ""
    amount: Text = ""
    category: Text = ""
    note: Text = ""


class Count(Counted, Lent):
    """Keep a count."""

    key: Key


class MatchFile(WithFile):
    """The same, with one device's batch file that was brought along."""

    device: Text = ""


class Close(Lent):
    """Close the day."""

    key: Key


class PrintReport(Form):
    """Print a day's report."""

    key: Key


class OpenIt(Counted, Lent):
    """The float of this till, by denomination or total, or skipped; it opens the day, or joins the open one."""

    key: Key
    how: Literal["", "skip"] = ""
