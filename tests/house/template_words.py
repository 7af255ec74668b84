"""Finds what people read in a template's expressions and statements without its being marked for the catalogue."""

from __future__ import annotations

import re
from collections.abc import Iterator

from jinja2 import Environment, nodes

from abrazo.desk.permissions import Right
from abrazo.words.markup import values_read
from abrazo.words.states import STATES

WORDED = re.compile(r"[^\W\d_]")
SENTENCE = re.compile(r"[^\W\d_] +[^\W\d_]|^[A-Z][a-z]")
CLASSES = re.compile(r"\bis-\w|^say ")
CODES = {*STATES, *Right, "answer lost", "silent, not charged", "not done", "at once", "another day", "stored card"}
CODES |= {"gift card", "store credit"}
ARITHMETIC = (nodes.Add, nodes.Sub, nodes.Mul, nodes.Div, nodes.FloorDiv, nodes.Mod)
NOT_READ = ("_", "_n", "form", "may")  # what these are given is marked, or read by no person


def unmarked(source: str) -> list[str]:
    """Literals that are shown but not marked: any word in an expression that is read, a sentence anywhere else."""
    environment = Environment(autoescape=True)
    found = [one for read in values_read(source) for one in _shown(environment.parse(read)) if WORDED.search(one)]
    others = [one for one in _literals(environment.parse(source)) if SENTENCE.search(one)]
    return found + [one for one in others if one not in CODES and not CLASSES.search(one)]


def reckoned(source: str) -> list[str]:
    """Amounts that a template works out by itself instead of printing them: what is summed, cut or multiplied."""
    tree = Environment(autoescape=True).parse(source)
    found = [f"|{one.name}" for one in tree.find_all(nodes.Filter) if one.name in ("sum", "min", "max")]
    for call in tree.find_all(nodes.Call):
        if isinstance(call.node, nodes.Name):
            found += [f"{call.node.name}(…)" for part in _amounts(call.node.name, call) if _works_out(part)]
    return found


def _works_out(part: nodes.Expr) -> bool:
    return any(isinstance(one, ARITHMETIC) for one in [part, *part.find_all(nodes.BinExpr)])


def _amounts(name: str, call: nodes.Call) -> Iterator[nodes.Expr]:
    """What of a call is an amount: all that is written as money."""
    if name in ("money", "plain"):
        yield from call.args
    if name in NOT_READ[:2]:
        said = " ".join(one.value for one in call.args if isinstance(one, nodes.Const))
        yield from (pair.value for pair in call.kwargs if f"{{{pair.key}:money}}" in said)


def _shown(tree: nodes.Template) -> Iterator[str]:
    for output in tree.find_all(nodes.Output):
        for node in output.nodes:
            yield from _worth(node)


def _worth(node: nodes.Node) -> Iterator[str]:
    """Literals that an expression may come to."""
    match node:
        case nodes.Const(value=str(text)):
            yield text
        case nodes.CondExpr():
            yield from _worth(node.expr1)
            yield from _worth(node.expr2) if node.expr2 else ()
        case nodes.Concat():
            for one in node.nodes:
                yield from _worth(one)
        case nodes.Or() | nodes.And() | nodes.Add():
            yield from _worth(node.left)
            yield from _worth(node.right)
        case nodes.Filter() if node.node:
            yield from _worth(node.node)
        case nodes.Getitem():
            yield from _worth(node.node)
        case nodes.Dict():
            for pair in node.items:
                yield from _worth(pair.value)
        case nodes.List() | nodes.Tuple():
            for one in node.items:
                yield from _worth(one)


def _literals(node: nodes.Node) -> Iterator[str]:
    """Every literal but what is marked, compared, the key of a table, or handed to a filter or test."""
    if isinstance(node, nodes.Const) and isinstance(node.value, str):
        yield node.value
    if isinstance(node, nodes.Compare | nodes.Test):
        return
    if isinstance(node, nodes.Call) and isinstance(node.node, nodes.Name) and node.node.name in NOT_READ:
        for keyword in node.kwargs:
            yield from _literals(keyword)
        return
    if isinstance(node, nodes.Pair):
        yield from _literals(node.value)
        return
    if isinstance(node, nodes.Filter):
        yield from _literals(node.node) if node.node else ()
        return
    for child in node.iter_child_nodes():
        yield from _literals(child)
