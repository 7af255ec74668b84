"""Refusals as messages on a page, in the words of whoever reads it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from abrazo.core.errors import BadEntry, Code, Refused
from abrazo.desk.context import House
from abrazo.desk.history import reader
from abrazo.words import phrases as w
from abrazo.words.refusals import bad_entry_text, refusal_text


@dataclass(frozen=True, slots=True)
class Notice:
    """A message on a page; `where` is the field it belongs to, empty for the page itself, `typed` what was typed."""

    kind: str  # done, wrong, changed; ask: it is refused until somebody says that it is meant so
    what: str
    where: str = ""
    details: tuple[str, ...] = field(default_factory=tuple)
    typed: Mapping[str, str] = field(default_factory=dict)
    status: int = 422  # of the page that answers a form with it

    def keeping(self, typed: Mapping[str, str]) -> Notice:
        """The same with what was typed: it stands in the form again."""
        return replace(self, typed=typed)


def said(house: House, refusal: Refused) -> str:
    """A refusal in words."""
    return refusal_text(reader(house), refusal)


ASKED = {Code.ABOVE_ESTIMATE, Code.PHONE_KNOWN}  # refused until somebody says that it is meant so


def wrong(house: House, refusal: Refused, at: str = "", otherwise: str = "") -> Notice:
    """The message of a refusal, beside the field `at`, else beside its own, `otherwise` where it names none."""
    kind = "ask" if refusal.code in ASKED else "wrong"
    return Notice(kind, said(house, refusal), at or refusal.where or otherwise, bad_entries(house, refusal))


def bad_entries(house: House, refusal: Refused) -> tuple[str, ...]:
    """What is wrong with each entry of a file that was refused, in words."""
    faults = refusal.facts.get("faults", ())
    assert isinstance(faults, tuple)
    said = [bad_entry_text(reader(house), one) for one in faults if isinstance(one, BadEntry)]
    if more := refusal.facts.get("more"):
        said.append(house.say(w.MORE_ENTRIES, more=more))
    return tuple(said)
