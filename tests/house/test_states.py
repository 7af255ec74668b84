"""States and kinds are enums, the same in the code as in the database, and never compared as bare strings."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from enum import StrEnum
from pathlib import Path

import pytest

from abrazo.core import states
from abrazo.core.ledger import Role

ROOT = Path(__file__).parents[2]
ENUMS: list[type[StrEnum]] = [Role]
ENUMS += [one for one in vars(states).values() if isinstance(one, type) and issubclass(one, StrEnum)]
SETS = {frozenset(state.value for state in one) for one in ENUMS}
PARTS = {frozenset(one) for one in [("line", "charge"), ("discount", "comp", "surcharge"), ("shares", "equal")]}
PARTS |= {
    frozenset(("server", "clerk", "supervisor")),
    frozenset(("out", "in")),
    frozenset(("sale", "deposit", "account payment", "gift card", "voucher", "store credit")),
    frozenset(("hired", "not hired", "returned")),
}  # of the first version; later ones add to them
STORED = frozenset(("gift card", "voucher", "store credit"))
ITS_OWN = {frozenset(("note", "place"))}  # shown or picked by one page alone
NAMES = {"state", "kind", "source", "split", "share", "tender", "tips_to", "tax_mode", "mode", "extra", "signature"}
NAMES |= {"role", "fees", "direction", "way", "how", "route", "outcome", "home", "where"}


def test_the_database_knows_the_same_states() -> None:
    for file in sorted((ROOT / "abrazo/store/migrations").glob("*.sql")):
        for listed in re.findall(r"IN \(('[^)]*)\)\)", file.read_text("utf-8")):
            words = frozenset(re.findall(r"'([^']*)'", listed))
            assert words - {""} in {one - {""} for one in SETS} | PARTS | ITS_OWN | {STORED}, listed


def bare(source: str) -> Iterator[str]:
    """Comparisons of a state or kind with a string."""
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Compare):
            named = node.left.attr if isinstance(node.left, ast.Attribute) else getattr(node.left, "id", "")
            sides = [one for side in node.comparators for one in getattr(side, "elts", [side])]
            if named in NAMES and any(isinstance(one, ast.Constant) and isinstance(one.value, str) for one in sides):
                yield ast.unparse(node)


@pytest.mark.parametrize("room", ["core", "store", "desk", "worker"])
def test_no_state_is_compared_as_a_bare_string(room: str) -> None:
    for path in (ROOT / "abrazo" / room).rglob("*.py"):
        assert list(bare(path.read_text("utf-8"))) == [], path


def test_what_the_search_finds() -> None:
    assert list(bare("if job.state == 'ready' or kind not in ('a', B): pass")) == [
        "job.state == 'ready'",
        "kind not in ('a', B)",
    ]
    assert list(bare("job.state == JobState.READY or name == 'ready'")) == []
