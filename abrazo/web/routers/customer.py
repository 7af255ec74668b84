"""Whose a ticket is: found, or written down on the spot."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.overview.person import likely_here, person_hits
from abrazo.desk.people.people import find_people
from abrazo.desk.tickets import customer as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.ticket_lines import Picked, add_line
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.for_whom import asking_for_whom
from abrazo.web.forms import customer as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter()


@router.get("/tickets/{ticket}/person")
def show(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, asked: Annotated[forms.AskedWhose, Query()]
) -> Response:
    """Whose the ticket is: hits for a name, at first for the ticket's own; or somebody new."""
    head = open_ticket(house, ticket).head
    q = asked.q if asked.q is not None else "" if head.person else head.name or ""
    return _page(request, house, actor, ticket, asked.model_copy(update={"q": q[:80]}))


def _page(
    request: Request,
    house: House,
    actor: Actor,
    ticket: int,
    asked: forms.AskedWhose,
    notice: Notice | None = None,
) -> Response:
    seen, q = open_ticket(house, ticket), asked.q or ""
    hits = person_hits(house, find_people(house, q)) if q.strip() else likely_here(house, seen.head.person or 0)
    digits = q.replace(" ", "").lstrip("+").isdigit()
    return page(
        request,
        house,
        actor,
        "ticket/whose.html",
        whole=seen,
        place=place_of(house, seen),
        q=q,
        asked=asked,
        item=house.item(asked.item) if asked.item else None,
        hits=hits,
        typed=notice.typed if notice else {"phone": q.strip()} if digits else {"name": q.strip()},
        notice=notice,
    )


@router.post("/tickets/{ticket}/person")
def put(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Put]) -> Response:
    """Somebody known, somebody new, or nobody after all."""
    version = form.version
    typed = form.typed("name", "phone", "another")
    try:
        if form.how == "new":
            desk.set_new_person(house, actor, OnTicket(ticket, version, form.key), typed)
        else:
            desk.set_person(house, actor, OnTicket(ticket, version), form.person)
        if form.item:
            with asking_for_whom(ticket, form.item):
                add_line(house, actor, OnTicket(ticket, None, f"{form.key}-item"), Picked(form.item))
    except Refused as refusal:
        asked = forms.AskedWhose(q=form.q, view=form.view, payer=form.payer, item=form.item)
        return _page(request, house, actor, ticket, asked, wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.ticket(ticket, view=form.view or "lines", payer=form.payer or None), 303)


@router.post("/people/{person:int}/sale")
def sale(house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Sale]) -> Response:
    """A sale for somebody, from their sheet, with what is sold to them."""
    ticket = desk.open_sale(house, actor, person, form.key)
    if form.item:
        add_line(house, actor, OnTicket(ticket, None, f"{form.key}-item"), Picked(form.item))
    return RedirectResponse(urls.ticket(ticket, view="lines" if form.item else "pick"), 303)
