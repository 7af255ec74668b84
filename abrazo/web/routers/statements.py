"""Statements of accounts: a page, PDF and CSV, by e-mail."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output.statements import mail_statement, paper_of
from abrazo.desk.payments import statements as desk
from abrazo.desk.people.people import known
from abrazo.formats.statement import statement_csv, statement_pdf
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import statements as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.words import phrases as w

router = APIRouter(prefix="/people/{person:int}/statement")


def _page(
    request: Request, house: House, actor: Actor, person: int, asked: dict[str, str], notice: Notice | None = None
) -> Response:
    try:
        first, last = desk.read_range(house, asked["since"], asked["until"])
    except Refused as refusal:
        first, last = desk.read_range(house, "", "")
        notice = wrong(house, refusal)
    told = desk.statement_of(house, person, first, last)
    email = asked["email"] or told.person.email or ""
    typed = {"since": told.start, "until": told.end} | {k: v for k, v in asked.items() if v} | {"email": email}
    return page(request, house, actor, "people/statement.html", told=told, typed=typed, notice=notice)


@router.get("")
def show(
    request: Request, house: OpenHouse, actor: SignedIn, person: int, since: str = "", until: str = ""
) -> Response:
    """Somebody's account over a range of business dates; the last ninety days unless said otherwise."""
    return _page(request, house, actor, person, {"since": since, "until": until, "email": ""})


@router.get("/statement.{kind}")
def file(request: Request, house: OpenHouse, actor: SignedIn, person: int, kind: str) -> Response:
    """The same as a file: pdf or csv."""
    asked = request.query_params
    known(house, person)
    made = {"pdf": (statement_pdf, "application/pdf"), "csv": (statement_csv, "text/csv; charset=utf-8")}
    if kind not in made:
        raise NotFound(f"no statement as {kind!r}")
    try:
        dates = desk.read_range(house, asked.get("since", ""), asked.get("until", ""))
    except Refused as refusal:
        typed = {"since": asked.get("since", ""), "until": asked.get("until", ""), "email": ""}
        return _page(request, house, actor, person, typed, wrong(house, refusal))
    paper = paper_of(house, desk.statement_of(house, person, *dates))
    make, media = made[kind]
    disposition = f'attachment; filename="{paper.name}.{kind}"'
    return Response(make(paper), media_type=media, headers={"content-disposition": disposition})


@router.post("")
def mail(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.MailStatement]) -> Response:
    """By e-mail, as PDF and CSV."""
    asked = {"since": form.since, "until": form.until, "email": form.email}
    try:
        told = desk.statement_of(house, person, *desk.read_range(house, form.since, form.until))
        mail_statement(house, actor, told, form.email, form.key)
    except Refused as refusal:
        return _page(request, house, actor, person, asked, wrong(house, refusal))
    tell(request, house.say(w.STATEMENT_SENT_TO, to=form.email.strip()))
    return RedirectResponse(urls.statement(person, since=told.start, until=told.end), 303)
