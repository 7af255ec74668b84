"""Forms: past tickets, found and corrected."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import ConfigDict, Field

from abrazo.core.errors import Code, Refused
from abrazo.core.money import read_decimal
from abrazo.desk.payments.views.past import FIELDS
from abrazo.web.forms.base import Form, Id, Ids, Key, Lent, MaybeId, Text

MOST_DECIMALS = 3  # of pieces that come back


class Search(Lent):
    """What past tickets are searched by, as it stands beside every correction."""

    q: Text = ""
    span: Text = ""
    date: Text = ""
    since: Text = ""
    until: Text = ""
    amount: Text = ""
    tender: Text = ""
    staff: Text = ""
    till: Text = ""
    about: Text = ""  # the kind of correction whose reason was typed

    def searched(self) -> dict[str, str]:
        """The search, as it was typed."""
        return self.typed(*FIELDS, "about")

    def filled_in(self) -> dict[str, str]:
        """What was filled in about the correction, as it is handed on."""
        return {name: text for name, text in self.as_typed().items() if name not in FIELDS and text}

    def as_typed(self) -> dict[str, str]:
        """All of it, to be shown again."""
        return self.searched()


class Correct(Search):
    """Open again, charge what was only recorded, make void, or hand it on."""

    key: Key
    what: Literal["open", "charge", "void", "hand on"]
    reason: Text = ""
    payment: MaybeId = 0

    def as_typed(self) -> dict[str, str]:
        """All of it, to be shown again."""
        return {**self.searched(), "reason": self.reason, "payment": str(self.payment or "")}


class Refund(Search):
    """Give back lines or an amount, to the tender it came from."""

    model_config = ConfigDict(extra="allow")

    payment: Id
    key: Key
    what: Text = ""
    refund: Text = ""
    refund_tip: Text = Field("", alias="refund-tip")
    reason: Text = ""
    lines: Ids = ()
    goods: Text = ""  # that come back; "lost": they are not for sale again

    def pieces(self) -> dict[int, Fraction]:
        """How many pieces of ticked lines come back, by line, where it was typed. Refused: not a number."""
        found, texts = dict[int, Fraction](), self.numbered("pieces")
        for line in self.lines:
            text = texts.get(str(line), "").strip().replace(",", ".")
            if text:
                found[line], decimals = read_decimal(text, "lines")
                if decimals > MOST_DECIMALS:
                    raise Refused(Code.NOT_DECIMAL, "lines")
        return found

    def as_typed(self) -> dict[str, str]:
        """All of it, to be shown again."""
        lines = ",".join(str(line) for line in self.lines)
        typed = {"refund": self.refund, "refund-tip": self.refund_tip, "lines": lines, "payment": str(self.payment)}
        typed |= {"goods": self.goods} | {f"pieces-{line}": text for line, text in self.numbered("pieces").items()}
        return {**self.searched(), **typed, "reason": self.reason}


class Slip(Form):
    """Print the slip of a refund."""

    key: Key
