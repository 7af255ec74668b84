"""Sums, differences, shares and limits of money are formed in core alone."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2] / "abrazo"
AMOUNT = re.compile(
    r"amount|asked|balance|came_to|change|change_and_refunds|charges_total|counted|credit|deposit|due|estimate"
    r"|expected|extras|fee|float_|freed|given|gross|handed|held|left_in_all|net|nets|off|on_bill|over|owed|paid"
    r"|points|price|rest|rounding|saved|sold|spent|spends|stated|tax_total|tendered|tip|tip_left|tips|total"
    r"|unit_price|used|value|wanted|worth"
)  # what money is called, by its last word
LENGTHS = {"scale", "width", "height", "thick", "ROW", "x", "y", "x0", "x1", "y0", "y1", "top"}  # of what is drawn
FORMED = (ast.Add, ast.Sub, ast.Mult, ast.FloorDiv, ast.Mod)
CHOSEN = {"sum", "min", "max"}


def leaf(node: ast.AST) -> str:
    """The name by which a value goes: the attribute of a record, the function that gave it."""
    match node:
        case ast.Attribute(attr=name) | ast.Name(id=name):
            return name
        case ast.Call(func=inner) | ast.UnaryOp(operand=inner) | ast.IfExp(body=inner) | ast.Subscript(value=inner):
            return leaf(inner)
        case ast.GeneratorExp(elt=inner) | ast.ListComp(elt=inner) | ast.BoolOp(values=[inner, *_]):
            return leaf(inner)
        case ast.Tuple(elts=[inner, *_]) | ast.List(elts=[inner, *_]):
            return leaf(inner)
    return ""


def formed(source: str) -> Iterator[str]:
    """Where a piece of code forms an amount out of others; a ratio of two, which is only drawn, does not count."""
    tree = ast.parse(source)
    ratios = {id(part) for one in ast.walk(tree) if isinstance(one, ast.BinOp) and isinstance(one.op, ast.Div)
              for part in ast.walk(one)}  # fmt: skip
    for node in ast.walk(tree):
        parts: list[ast.expr] = []
        if isinstance(node, ast.BinOp) and isinstance(node.op, FORMED) and id(node) not in ratios:
            parts = [node.left, node.right]
        elif isinstance(node, ast.AugAssign) and isinstance(node.op, FORMED):
            parts = [node.target, node.value]
        elif isinstance(node, ast.Call) and leaf(node.func) in CHOSEN:
            parts = node.args
        names = {leaf(part) for part in parts}
        if any(map(AMOUNT.fullmatch, names)) and not names & LENGTHS:
            yield ast.unparse(node)


@pytest.mark.parametrize("room", ["store", "desk", "worker", "web", "cli"])
def test_no_amount_is_formed_outside_core(room: str) -> None:
    for path in sorted((ROOT / room).rglob("*.py")):
        assert list(formed(path.read_text("utf-8"))) == [], path.relative_to(ROOT)


@pytest.mark.parametrize(
    ("source", "number"),
    [
        ("rest = bill.total - account.paid", 1),
        ("due += payment.tip", 1),
        ("sum(line.net for line in lines) + max(0, due)", 2),
        ("half = whole.bill.due // 2", 1),
        ("min(card.owed, 5)", 1),
        ("line.amount * scale; 1000 * card.paid / card.asked", 0),
        ("total(payment.given for payment in taken)", 0),
        ("len(lines) - 1; names + more", 0),
    ],
)
def test_what_the_search_finds(source: str, number: int) -> None:
    assert len(list(formed(source))) == number
