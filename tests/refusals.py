"""Refusals as they are read."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import pytest

from abrazo.core.errors import BadEntry, Refused
from abrazo.core.money import Currency
from abrazo.words.refusals import bad_entry_text, refusal_text
from abrazo.words.speaking import Reader

READER = Reader(Currency.of("EUR"))


def sentence(refusal: Refused) -> str:
    """A refusal in words."""
    return refusal_text(READER, refusal)


def bad_entries(refusal: Refused) -> list[str]:
    """What is wrong with each entry of a file, in words."""
    faults = refusal.facts["faults"]
    assert isinstance(faults, tuple)
    return [bad_entry_text(READER, one) for one in faults if isinstance(one, BadEntry)]


@contextmanager
def refuses(match: str) -> Iterator[pytest.ExceptionInfo[Refused]]:
    """Something inside is refused, in words in which `match` is found."""
    with pytest.raises(Refused) as refusal:
        yield refusal
    assert re.search(match, sentence(refusal.value)), sentence(refusal.value)
