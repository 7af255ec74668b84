"""Forms: till."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from pydantic import ConfigDict, Field

from abrazo.desk.till.business_day import bank_field
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
    item: Text = ""
    pieces: Text = ""


class PayTips(Lent):
    """Tips of somebody are paid out in cash."""

    key: Key
    person: Text = ""
    amount: Text = ""


class PettyBack(Form):
    """What was paid out or in goes back."""

    key: Key


class Count(Counted, Lent):
    """Keep a count; with it the drawer may go on with somebody else."""

    key: Key
    how: Text = ""
    hand_to: Text = Field("", alias="hand-to")


class MatchFile(WithFile):
    """The same, with one device's batch file that was brought along."""

    device: Text = ""


class Payout(Form):
    """A payout of a route came to the bank."""

    key: Key
    device: Text = ""
    arrived: Text = ""
    fee: Text = ""


class Close(Lent):
    """Close the day; what goes to the bank stands in a field for each drawer, `bank-` and the till's id."""

    model_config = ConfigDict(extra="allow")

    key: Key

    def banked(self, tills: Iterable[str]) -> dict[str, str]:
        """What was typed for each drawer."""
        extra: dict[str, str] = self.model_extra or {}
        return {bank_field(till): extra.get(bank_field(till), "").strip() for till in tills}


class PrintReport(Form):
    """Print a day's report."""

    key: Key


class OpenIt(Counted, Lent):
    """The float of this till, by denomination or total, or skipped; it opens the day, or joins the open one."""

    key: Key
    how: Literal["", "skip", "sum"] = ""
    why: Text = ""
    again: Text = ""
