"""Texts of templates: what of a Jinja page is read by people, found and replaced by what another language says.

A template is written in English; its texts need no marks. A text is what stands between two tags, or in an attribute
that is read out, with the values in it as placeholders: `Take {{ money(due) }} cash` is the message `Take {due} cash`.
A page is translated once, when its template is loaded, so that no language costs more than another at run time.
Literals inside an expression are marked: `{{ _("paid") if done else _("open") }}`.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field

READ_OUT = {"aria-label", "title", "placeholder", "alt", "label", "aria-description"}
JINJA = re.compile(r"\{#.*?#\}|\{%.*?%\}|\{\{.*?\}\}", re.DOTALL)
_LITERAL = r"""("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')"""
MARKED = re.compile(rf"\b_\(\s*{_LITERAL}\s*[,)]")
BY_NUMBER = re.compile(rf"\b_n\(\s*{_LITERAL}\s*,\s*{_LITERAL}\s*,")
_ATTRIBUTE = re.compile(r"([\w:@.-]+)=([\"'])")
_SPACES = re.compile(r"\s+")
_STRINGS = re.compile(r"\"[^\"]*\"|'[^']*'")
_PATHS = re.compile(r"(?<![|\w.])([A-Za-z_]\w*(?:\.\w+)*+)(?!\w|\s*\()")
_WORDLESS = {"if", "else", "not", "and", "or", "in", "is", "none", "true", "false"}
_DRAWN = re.compile(r"\{\{\s*(?:icon|m\.|signs|begin|sum|lines\.)")


@dataclass(frozen=True, slots=True)
class Text:
    """A text of a template: its message, where it stands in the source, and the expression of each placeholder."""

    message: str
    start: int
    end: int
    values: dict[str, str] = field(default_factory=dict)


def texts(source: str) -> Iterator[Text]:
    """Every text of a template's source, in order."""
    for run in _runs(source):
        found = _text(source, run)
        if found:
            yield found


def marked(source: str) -> Iterator[str]:
    """Every literal that is marked inside an expression or a statement."""
    for part in JINJA.finditer(source):
        for literal in MARKED.finditer(part[0]):
            yield literal[1][1:-1]


def marked_plurals(source: str) -> Iterator[tuple[str, str]]:
    """Every pair of literals for one and for many that is marked."""
    for part in JINJA.finditer(source):
        for pair in BY_NUMBER.finditer(part[0]):
            yield pair[1][1:-1], pair[2][1:-1]


def translated(source: str, say: Callable[[str], str]) -> str:
    """A template's source in another language; `say` gives a message in it, or the message itself."""
    made, done = [], 0
    for one in texts(source):
        said = say(one.message)
        if said != one.message:
            made += [source[done : one.start], _with_values(said, one.values)]
            done = one.end
    return "".join([*made, source[done:]])


def _with_values(said: str, values: Mapping[str, str]) -> str:
    return re.sub(r"\{(\w+)\}", lambda name: values[name[1]], said)


_Run = list[tuple[int, int, bool]]  # start, end and whether it is an expression: what stands unbroken side by side


def _runs(source: str) -> Iterator[_Run]:
    """Stretches of words and expressions that no tag, statement or comment breaks, outside of tags or in read-out attributes."""
    run = list[tuple[int, int, bool]]()
    for part in _pieces(source):
        kind, start, end = part
        if kind in ("words", "value") and run and run[-1][1] != start:
            yield run
            run = []
        if kind == "broken":
            if run:
                yield run
            run = []
        else:
            run.append((start, end, kind == "value"))
    if run:
        yield run


def _pieces(source: str) -> Iterator[tuple[str, int, int]]:
    """Words, values (expressions) and what breaks them, in order."""
    at, tag, quote, heard = 0, False, "", False
    while at < len(source):
        jinja = JINJA.match(source, at) if source[at] == "{" else None
        if jinja:
            is_value = jinja[0].startswith("{{") and (heard if tag else True)
            yield ("value" if is_value else "broken"), at, jinja.end()
            at = jinja.end()
        elif tag and quote:
            end = _until(source, at, quote + "{")
            if end > at:
                yield ("words" if heard else "broken"), at, end
            at = end
            if at < len(source) and source[at] == quote:
                yield "broken", at, at + 1
                at, quote, heard = at + 1, "", False
            elif at < len(source) and not JINJA.match(source, at):
                at += 1
        elif tag:
            attribute = _ATTRIBUTE.match(source, at)
            if attribute:
                quote, heard = attribute[2], attribute[1] in READ_OUT
                yield "broken", at, attribute.end()
                at = attribute.end()
            else:
                tag = source[at] != ">"
                yield "broken", at, at + 1
                at += 1
        elif source[at] == "<" and re.match(r"</?[a-zA-Z!]", source[at:]):
            tag = True
            yield "broken", at, at + 1
            at += 1
        else:
            end = max(_until(source, at + 1, "<{"), at + 1)
            yield "words", at, end
            at = end


def _until(source: str, at: int, stops: str) -> int:
    while at < len(source) and source[at] not in stops:
        at += 1
    return at


def _text(source: str, run: _Run) -> Text | None:
    """The text of a run, without drawings and space at its ends; none when nobody has to read it."""
    while run and _aside(source, run[0]):
        run = run[1:]
    while run and _aside(source, run[-1]):
        run = run[:-1]
    words = "".join(source[start:end] for start, end, value in run if not value)
    if not re.search(r"[^\W\d_]{2}", re.sub(r"&\w+;", "", words)):
        return None
    message, values = "", dict[str, str]()
    for start, end, value in run:
        message += "{" + _placeholder(source[start:end], values) + "}" if value else source[start:end]
    lead = len(message) - len(message.lstrip())
    tail = len(message) - len(message.rstrip())
    return Text(_SPACES.sub(" ", message.strip()), run[0][0] + lead, run[-1][1] - tail, values)


def _aside(source: str, part: tuple[int, int, bool]) -> bool:
    start, end, value = part
    return bool(_DRAWN.match(source, start)) if value else not source[start:end].strip()


def _placeholder(expression: str, values: dict[str, str]) -> str:
    """A name for an expression: the last word of the first thing that it reads."""
    paths = [one for one in _PATHS.findall(_STRINGS.sub("", expression[2:-2])) if one not in _WORDLESS]
    base = paths[0].rsplit(".", 1)[-1] if paths else "it"
    name, number = base, 2
    while values.get(name, expression) != expression:
        name, number = f"{base}_{number}", number + 1
    values[name] = expression
    return name


def values_read(source: str) -> Iterator[str]:
    """Every expression whose value is read: between tags, or in an attribute that is read out."""
    for kind, start, end in _pieces(source):
        if kind == "value":
            yield source[start:end]
