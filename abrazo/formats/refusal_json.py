"""Refusals as JSON and back, so that one that somebody meets later can be kept: codes and facts, no sentences."""

from __future__ import annotations

import json
from typing import Any

from abrazo.core.errors import BadEntry, Code, Refused


def write_refusal(refusal: Refused) -> str:
    """A refusal as JSON; facts that are neither texts, numbers, refusals nor entries are kept as texts."""
    return json.dumps(_plain(refusal), ensure_ascii=False)


def read_refusal(text: str) -> Refused:
    """The refusal that was written."""
    refusal = _again(json.loads(text))
    assert isinstance(refusal, Refused)
    return refusal


def _plain(fact: object) -> Any:
    if isinstance(fact, Refused):
        facts = {name: _plain(one) for name, one in fact.facts.items()}
        return {"code": fact.code.value, "where": fact.where, "facts": facts}
    if isinstance(fact, BadEntry):
        return {"line": fact.line, "name": fact.name, "why": _plain(fact.why)}
    if isinstance(fact, tuple):
        return [_plain(one) for one in fact]
    return fact if fact is None or isinstance(fact, str | int) else str(fact)


def _again(plain: Any) -> object:
    if isinstance(plain, list):
        return tuple(_again(one) for one in plain)
    if not isinstance(plain, dict):
        return plain
    if "line" in plain:
        why = _again(plain["why"])
        assert isinstance(why, Refused)
        return BadEntry(plain["line"], plain["name"], why)
    return Refused(Code(plain["code"]), plain["where"], **{name: _again(one) for name, one in plain["facts"].items()})
