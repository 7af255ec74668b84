"""The house keeps its own rules: docs name what exists, the core stays pure, every core module has its proof."""

from __future__ import annotations

import ast
import importlib
import inspect
import pkgutil
import re
from pathlib import Path

import abrazo.core
from abrazo.desk.permissions import Right
from abrazo.store.db import connect
from abrazo.store.migrate import migrate
from abrazo.words.speaking import CODES
from abrazo.words.states import STATES
from tests.house.schema_docs import page
from tests.house.set_up_docs import page as set_up_page

ROOT = Path(__file__).parent.parent.parent
MODULES = [module.name for module in pkgutil.iter_modules(abrazo.core.__path__)]


def public_functions() -> set[str]:
    found = set()
    for name in MODULES:
        module = importlib.import_module(f"abrazo.core.{name}")
        for what, value in vars(module).items():
            if inspect.isfunction(value) and value.__module__ == module.__name__ and not what.startswith("_"):
                found.add(f"{name}.{what}")
    return found


def test_rules_name_every_function_and_none_that_is_gone() -> None:
    listed = set(re.findall(r"`([a-z_]+\.[a-z0-9_]+)`", (ROOT / "docs/rules.md").read_text("utf-8")))
    assert listed == public_functions()


def test_rules_name_tests_that_exist() -> None:
    for path in re.findall(r"`(tests/[a-z_/.]+\.py)`", (ROOT / "docs/rules.md").read_text("utf-8")):
        assert (ROOT / path).is_file(), path


def test_public_core_functions_have_docstrings() -> None:
    for name in public_functions():
        module, function = name.split(".")
        assert getattr(importlib.import_module(f"abrazo.core.{module}"), function).__doc__, name


def test_core_has_no_floats_and_no_clock() -> None:
    for name in MODULES:
        tree = ast.parse((ROOT / f"abrazo/core/{name}.py").read_text("utf-8"))
        for node in ast.walk(tree):
            assert not (isinstance(node, ast.Constant) and isinstance(node.value, float)), name
            called = getattr(node.func, "id", getattr(node.func, "attr", "")) if isinstance(node, ast.Call) else ""
            assert called not in ("float", "now", "today", "time"), name


def test_readme_shows_every_picture_and_chore() -> None:
    readme = (ROOT / "README.md").read_text("utf-8")
    for picture in (ROOT / "docs/screenshots").glob("*.png"):
        assert picture.name in readme
    for chore in re.findall(r"^([a-z]+):.*##", (ROOT / "Makefile").read_text("utf-8"), re.M):
        assert chore == "help" or f"make {chore}" in readme, chore


def test_paths_in_the_docs_exist() -> None:
    docs = [ROOT / name for name in ("README.md", "CONTRIBUTING.md", "SECURITY.md", "CHANGELOG.md")]
    for doc in [*docs, *(ROOT / "docs").rglob("*.md")]:
        for path in re.findall(
            r"(?<![\w/])((?:core|store|devices|formats|desk|worker|web|cli)/[a-z_/]+\.py)", doc.read_text("utf-8")
        ):
            assert (ROOT / "abrazo" / path).is_file() or (ROOT / "tests" / path).is_file(), f"{doc.name}: {path}"


def test_only_the_table_of_rights_asks_for_a_role() -> None:
    asks = re.compile(r"(?<!line)(?<!ln)(?<!one)(?<!use)(?<!self)(?<!\bl)\.role\b")  # lines have a role of their own
    allowed = {"desk/permissions.py", "store/staff.py", "web/routers/role_rights.py"}
    for path in (ROOT / "abrazo").rglob("*"):
        if path.suffix in (".py", ".html") and str(path.relative_to(ROOT / "abrazo")) not in allowed:
            assert not asks.search(path.read_text("utf-8")), path


def test_set_up_is_described_as_it_is() -> None:
    assert (ROOT / "docs/set-up.md").read_text("utf-8") == set_up_page(), "run `make schemas`"


def test_every_column_is_described(tmp_path: Path) -> None:
    assert (ROOT / "docs/data.md").read_text("utf-8") == page(), "run `make schemas`"
    connection = connect(tmp_path / "house.db")
    migrate(connection)
    tables = [row["name"] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
    for table in tables:
        if not table.startswith("person_words"):
            names = [row["name"] for row in connection.execute(f"PRAGMA table_info({table})")]
            described = re.search(rf"^### {table}\n(.*?)(?:\n###|\n## |\Z)", page(), re.M | re.S)
            assert described, table
            assert re.findall(r"^\| `(\w+)` \| [^|]+ \| [^|\s][^|]* \|$", described[1], re.M) == names, table
    connection.close()


def test_what_the_types_let_pass_has_its_reason() -> None:
    for folder in ("abrazo", "tests", "bench"):
        for path in (ROOT / folder).rglob("*.py"):
            if path != Path(__file__):
                for line in path.read_text("utf-8").splitlines():
                    assert "type: ignore" not in line or re.search(r"type: ignore\[[a-z-]+\]  # \w", line), (
                        f"{path}: {line}"
                    )


FOR_LOGS = ("NotFound", "KeyError", "TypeError", "ValueError", "error", "warning", "exception")


def _for_logs(tree: ast.AST) -> set[int]:
    """What calls are given whose texts only logs show."""
    calls = [node for node in ast.walk(tree) if isinstance(node, ast.Call)]
    named = [call for call in calls if getattr(call.func, "id", getattr(call.func, "attr", "")) in FOR_LOGS]
    return {id(part) for call in named for part in ast.walk(call)}


def _strings(path: Path) -> list[tuple[int, str]]:
    """The strings of a module that are no docstrings, and that not only logs show."""
    tree = ast.parse(path.read_text("utf-8"))
    docs = _for_logs(tree) | {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef)
        and node.body
        and isinstance(node.body[0], ast.Expr)
    }
    return [
        (node.lineno, node.value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docs
    ]


# What a bug says to whoever mends it, and codes of several words, are no sentences for people.
FOR_MENDERS = {
    "core/codes.py",
    "core/journal.py",
    "core/matching.py",
    "core/ledger.py",
    "core/moments.py",
    "core/sharing.py",
    "store/db.py",
}


# Not found, a bug, markup: nothing that a person reads as it stands here.
NO_SENTENCE = re.compile(r"^<|^input |\b(SELECT|INSERT|UPDATE|DELETE|PRAGMA|WHERE|FROM|JOIN)\b")
SPOKEN = re.compile(r"[a-z]{2,} [a-z]{2,} [a-z]{2,}|^[A-Z][a-z]+ [a-z]|^[A-Z][a-z]{3,}$")
KNOWN = {*STATES, *CODES, *Right, "Abrazo"}  # codes and names
KNOWN |= {"sent to prepare", "deposit given back", "going back to the card"}  # kinds of acts


def test_no_sentence_but_in_words() -> None:
    """What people read stands in the catalogue, from where the rooms take it."""
    for room in ("core", "store", "desk", "web"):
        for path in (ROOT / "abrazo" / room).rglob("*.py"):
            if f"{room}/{path.name}" in FOR_MENDERS:
                continue
            found = [one for _, one in _strings(path) if SPOKEN.search(one) and not NO_SENTENCE.search(one)]
            assert [one for one in found if one not in KNOWN] == [], path


def test_nothing_of_the_demos_house_outside_the_demo() -> None:
    demos = re.compile(
        r"marram|boathouse|saltpan|\bgalley\b|\blanding\b|estuary|the shed|instructor|\"std\"|'std'|Europe/Dublin|€",
        re.I,
    )
    for path in (ROOT / "abrazo").rglob("*"):
        if path.suffix in (".html", ".js"):
            assert not demos.search(path.read_text("utf-8")), path
        if path.suffix == ".py" and "demo" not in path.parts and path.name != "receipt_files.py":
            assert [one for one in _strings(path) if demos.search(one[1])] == [], path


def test_every_public_name_says_what_it_is() -> None:
    for path in (ROOT / "abrazo").rglob("*.py"):
        tree = ast.parse(path.read_text("utf-8"))
        classes = [one for one in tree.body if isinstance(one, ast.ClassDef) and not one.name.startswith("_")]
        outer = [*tree.body, *(part for one in classes for part in one.body)]
        named = [one for one in outer if isinstance(one, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef)]
        mute = [one.name for one in named if not one.name.startswith("_") and not ast.get_docstring(one)]
        assert mute == [], path


def test_no_function_has_more_than_six_parameters() -> None:
    """What belongs together comes as one record. A form in a template, and a command, are given what they have by name."""
    many = []
    for path in sorted((ROOT / "abrazo").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                names = [one.arg for one in [*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]]
                if len([name for name in names if name not in ("self", "cls")]) > 6:
                    many.append(f"{path.relative_to(ROOT)}:{node.name}")
    assert many == ["abrazo/cli/main.py:export_", "abrazo/web/markup.py:form"]
