"""Rendering: the templates' environment, and how money and times are written for the eye."""

from __future__ import annotations

import functools
import secrets
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from fractions import Fraction
from http import HTTPStatus
from importlib import resources
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined, select_autoescape
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import HTMLResponse

from abrazo.core.moments import clock_of, wall_of
from abrazo.desk.context import Actor, House, Till
from abrazo.desk.history import reader
from abrazo.desk.overview.finder import is_open
from abrazo.desk.payments.views.pay_pad import card_steps
from abrazo.desk.permissions import Right, has, lenders, needs_no_lender
from abrazo.desk.tickets.starting import letter
from abrazo.web import markup, urls
from abrazo.web.floor_plan import drawn
from abrazo.web.kept_templates import kept_templates
from abrazo.words.amounts import money_words
from abrazo.words.catalogue import Catalogue, catalogue, language_names, paper_languages
from abrazo.words.causes import cause_text, move_text
from abrazo.words.markup import translated
from abrazo.words.speaking import Plural, Reader, code_word, date_words, fill, moment_words, sentence, short_date
from abrazo.words.states import state_word

LONG = 100 * 60  # minutes that are told as days
PEOPLE = 6  # colours and patterns before they are paired anew


@functools.lru_cache(maxsize=64)
def icon(name: str) -> Markup:
    """An icon's SVG, hidden from screen readers: words stand beside it."""
    svg = (resources.files("abrazo.web") / "templates" / "icons" / f"{name}.svg").read_text("utf-8")
    start = svg.index("class=")
    end = svg.index('"', start + 7) + 1
    return Markup(svg[:start] + 'class="ic" aria-hidden="true"' + svg[end:])  # noqa: S704 (a file of ours)


def hue(letter: str) -> int:
    """Which of the six colours a letter has; 9 is the plain one of the whole table."""
    if not letter or not letter[0].isalpha():
        return 9
    return _index(letter) % PEOPLE


def pattern(letter: str) -> str:
    """A letter's pattern: after F colours and patterns are paired anew."""
    if hue(letter) == 9:
        return "9-9"
    index = _index(letter)
    return f"{index % PEOPLE}-{(index + index // PEOPLE) % PEOPLE}"


def _index(letter: str) -> int:
    index = 0
    for character in letter:
        index = index * 26 + ord(character) - 64
    return index - 1


_reader: ContextVar[Reader] = ContextVar("reader")  # who reads the page that is being drawn


def clock(text: str) -> str:
    """A stamp or wall time as hours and minutes of the house."""
    return clock_of(text, _reader.get().zone)


def day(text: str) -> str:
    """The ISO date, in the house, of a stamp or wall time; a date as it is."""
    return wall_of(text, _reader.get().zone).date().isoformat()


def said(sentence: str, **facts: Any) -> str:
    """A text of a page in the reader's language, with its facts."""
    return fill(_reader.get(), sentence, facts)


def said_by_number(one: str, many: str, fact: str, **facts: Any) -> str:
    """A text for one and a text for many, by the number in a fact."""
    return fill(_reader.get(), Plural(one, many, fact), facts)


def joined(*parts: str) -> str:
    """What is there of several facts, side by side."""
    return ", ".join(part for part in parts if part)


def word_of_state(code: str) -> str:
    """A state as the word that pages show."""
    return state_word(_reader.get().texts, code)


def long_date(text: str) -> str:
    """The date of a stamp, wall time or date in words: Sat 13 Jun, with its year when it is not this one."""
    return date_words(_reader.get(), text)


def elapsed(minutes: int) -> str:
    """Minutes as 1:12, from a hundred hours on as 34 d."""
    if minutes >= LONG:
        return f"{minutes // (24 * 60)} d"
    return f"{minutes // 60}:{minutes % 60:02d}"


def exact_money(house: House) -> Callable[[Fraction], str]:
    """Writes an exact value in minor units with two places more than the currency has."""
    currency = house.settings.currency
    return lambda value: currency.exact_text(value).replace("-", "−")


def brief_date(iso: str) -> str:
    """A date without its weekday: 30 Apr 2027."""
    return short_date(_reader.get(), iso)


def percent(value: Fraction) -> str:
    """A percent or rate without needless zeros."""
    return f"{Decimal(value.numerator) / Decimal(value.denominator):f}"


def coming_days(now: datetime, number: int = 35, also: str = "") -> list[tuple[str, str]]:
    """The next dates as (ISO, words), and one more when it lies outside of them."""
    days = [now + timedelta(days=n) for n in range(number)]
    found = [(f"{day:%Y-%m-%d}", date_words(_reader.get(), day)) for day in days]
    return found if not also or any(iso == also for iso, _ in found) else [*found, (also, also)]


class _InLanguage(PackageLoader):
    """Loads templates with their texts in a language."""

    def __init__(self, texts: Catalogue) -> None:
        super().__init__("abrazo.web")
        self._texts = texts

    def get_source(self, environment: Environment, template: str) -> tuple[str, str, Callable[[], bool] | None]:
        """The template's source, translated once."""
        source, path, fresh = super().get_source(environment, template)
        return translated(source, self._texts.gettext), path, fresh


def sources() -> dict[str, str]:
    """The source of every template by name."""
    loader = PackageLoader("abrazo.web")
    environment = Environment(autoescape=True)
    return {name: loader.get_source(environment, name)[0] for name in loader.list_templates() if name.endswith(".html")}


@functools.lru_cache(maxsize=32)
def templates(language: str = "en") -> Environment:
    """The templates in a language; English ones as they are written."""
    environment = _environment(PackageLoader("abrazo.web") if language == "en" else _InLanguage(catalogue(language)))
    environment.globals["language"] = language
    patterns = environment.get_template("_parts/patterns.html").render()
    environment.globals["patterns"] = Markup(patterns)  # noqa: S704 (a file of ours)
    return environment


def compiled(language: str) -> None:
    """Make all templates of a language ready, so that nobody waits for the first page of its kind."""
    environment = templates(language)
    for name in environment.list_templates(["html"]):
        environment.get_template(name)


def _environment(loader: PackageLoader) -> Environment:
    environment = Environment(
        loader=loader,
        autoescape=select_autoescape(default=True),
        undefined=StrictUndefined,
        bytecode_cache=kept_templates(),
        auto_reload=False,  # else every page asks the disk for each of its templates
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.globals |= {"urls": urls, "icon": icon, "hue": hue, "pattern": pattern, "people": PEOPLE}
    environment.globals |= {"letters": [letter(index) for index in range(26)]}
    environment.globals |= {
        "coming_days": coming_days,
        "drawn": drawn,
        "card_steps": card_steps,
        "joined": joined,
        "_": said,
        "_n": said_by_number,
    }
    environment.globals |= {"new_key": lambda: uuid.uuid4().hex}
    environment.globals |= {"paper_languages": language_names(paper_languages())}
    environment.globals |= {
        "form": markup.form,
        "state_fields": markup.state_fields,
        "swap": markup.SWAP,
        "go": markup.GO,
        "unfold": markup.UNFOLD,
    }
    environment.filters |= {
        "pattern_of": pattern,
        "percent": percent,
        "clock": clock,
        "elapsed": elapsed,
        "house_date": long_date,
        "day": day,
        "short_date": brief_date,
        "state_word": word_of_state,
    }
    environment.filters["sentence"] = sentence
    return environment


def csrf_of(request: Request) -> str:
    """The session's token against forged forms; made when there is none."""
    if "csrf" not in request.session:
        request.session["csrf"] = secrets.token_urlsafe(24)
    return str(request.session["csrf"])


def _seen(request: Request, status: int) -> str:
    """The last change that the page shows; empty when its address does not lead to the same page again."""
    again = request.method == "GET" and status == HTTPStatus.OK
    return str(getattr(request.state, "seen", 0)) if again else ""


@dataclass(frozen=True, slots=True)
class Undo:
    """How what was done is turned round: where to, and the fields that go there."""

    action: str
    fields: tuple[tuple[str, str | int], ...]


def tell(request: Request, words: str, undo: Undo | None = None) -> None:
    """Say on the next page what was done, with the way to turn it round where there is one."""
    request.session["message"] = words
    request.session["undo"] = [undo.action, [list(pair) for pair in undo.fields]] if undo else None


def _in_work(request: Request, house: House) -> tuple[int, str] | None:
    """The ticket that was worked on last, while it is open: one touch away from every page."""
    number, name = request.session.get("work") or (0, "")
    return (number, name) if number and is_open(house, number) else None


def _tills_to_go_to(house: House, actor: Actor | None) -> list[Till]:
    """The other tills, for somebody who practises: nobody else stands at them there."""
    if actor is None or not house.settings.practice:
        return []
    return [till for till in house.tills_in_use().values() if till.id != actor.till.id]


def plain_page(template: str, **context: Any) -> str:
    """A page of no house yet, in English."""
    _reader.set(Reader())
    return templates("en").get_template(template).render(**context)


def page(
    request: Request, house: House, actor: Actor | None, template: str, status: int | None = None, **context: Any
) -> HTMLResponse:
    """A page from a template. Its status, and what was typed, are those of its notice, where nothing else is said."""
    notice = context.get("notice")
    if status is None:
        status = 200 if notice is None or notice.kind == "done" else notice.status
    context.setdefault("lenders", lenders(house.workers().values()) if actor else [])
    context.setdefault("typed", notice.typed if notice else {})
    currency = house.settings.currency
    now = house.now()
    to = reader(house)
    _reader.set(to)
    token = csrf_of(request)
    markup.csrf.set(token)
    html = (
        templates(to.language)
        .get_template(template)
        .render(
            actor=actor,
            may=lambda right: actor is not None and has(actor.staff, Right(right)),
            asks_lender=actor is not None and not needs_no_lender(actor.staff),
            settings=house.settings,
            tills_to_go_to=_tills_to_go_to(house, actor),
            does=house.settings.does.split(),
            money=lambda amount: money_words(amount, currency),
            plain=currency.text,
            cause=lambda one: cause_text(to, one),
            word=lambda code: code_word(to, code),
            moved=lambda kind, number: move_text(to, kind, number),
            csrf=token,
            seen=_seen(request, status),
            page_address=request.url.path + (f"?{request.url.query}" if request.url.query else ""),
            turned=bool(request.session.get("turned")),
            message=request.session.pop("message", "") if status == HTTPStatus.OK else "",
            undo=request.session.pop("undo", None) if status == HTTPStatus.OK else None,
            work=_in_work(request, house) if actor and template != "ticket/page.html" else None,
            now=now,
            now_words=moment_words(to, now),
            **context,
        )
    )
    return HTMLResponse(html, status)
