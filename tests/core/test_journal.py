"""The chain of the journal. Outside: RFC 8785 (canonical JSON), section 3.2.2 and appendix B; FIPS 180-4 (SHA-256)."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.journal import FIRST, ChainLink, Kind, canonical, chain_faults, link_hash, text_hash
from abrazo.core.ledger import Posting

FACTS = st.dictionaries(st.sampled_from(["amount", "payer", "line", "é"]), st.integers() | st.booleans() | st.text())


def chained(facts: list[dict[str, object]]) -> list[ChainLink]:
    """Entries with these facts, as they are written one after the other."""
    links, previous = list[ChainLink](), FIRST
    for number, one in enumerate(facts, 1):
        legs = (Posting("assets:cash:1", number), Posting("income:x", -number))
        link = ChainLink(number, previous, f"2026-01-01T00:00:{number:02d}", 1, "t", "s", Kind.PAID, one, legs)
        previous = link_hash(link)
        links.append(replace(link, hash=previous))
    return links


def test_json_is_as_the_standard_has_it() -> None:
    """RFC 8785: keys sorted, no space; escapes of 3.2.2.2; nothing else is escaped."""
    said = {"b": [1, True, None], "a": '€$\x0f\nA\'B"\\"/', "\r": 1}
    assert canonical(said) == '{"\\r":1,"a":"€$\\u000f\\nA\'B\\"\\\\\\"/","b":[1,true,null]}'


@pytest.mark.parametrize("value", [1.5, {"a": [{"b": 0.0}]}])
def test_no_fact_is_a_float(value: object) -> None:
    with pytest.raises(TypeError, match="float"):
        canonical(value)


def test_known_hashes() -> None:
    """FIPS 180-4, the one-block example `abc`: a text is hashed after its salt."""
    assert text_hash("a", "bc") == "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"


@given(st.lists(FACTS, max_size=5))
def test_what_was_written_holds(facts: list[dict[str, object]]) -> None:
    links = chained(facts)
    assert chain_faults(links) == []
    assert all(json.loads(canonical(dict(link.facts))) == link.facts for link in links)


CHANGED: dict[str, Any] = {
    "at": "2027",
    "day": 2,
    "till": "u",
    "staff": "r",
    "kind": Kind.TAKEN_BACK,
    "facts": {"amount": 2},
    "postings": (Posting("assets:cash:1", 3), Posting("income:x", -3)),
}


@pytest.mark.parametrize("field", CHANGED)
def test_one_changed_fact_shows(field: str) -> None:
    links = chained([{"amount": 1}] * 3)
    links[1] = replace(links[1], **{field: CHANGED[field]})
    assert chain_faults(links) == [(2, "hash")]


def test_every_other_fault_is_named() -> None:
    links = chained([{"amount": 1}] * 4)
    assert chain_faults([links[0], *links[2:]]) == [(3, "gap"), (3, "previous")]
    again = replace(links[1], facts={}, hash=link_hash(replace(links[1], facts={})))
    assert chain_faults([links[0], again, *links[2:]]) == [(3, "previous")]
    short = replace(links[0], postings=(Posting("assets:cash:1", 1),))
    assert chain_faults([replace(short, hash=link_hash(short))]) == [(1, "balance")]


def test_the_order_of_postings_says_nothing() -> None:
    link = chained([{}])[0]
    assert link_hash(replace(link, postings=link.postings[::-1])) == link.hash
