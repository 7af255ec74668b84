"""Set-up: when people take bookings, and what services ask for."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.setup import booking_rules as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import bookings as forms
from abrazo.web.forms.base import Sent, is_number
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.set_up_page import page_besides

router = APIRouter(prefix="/set-up/bookings")


def _page(
    request: Request, house: House, actor: Actor, notice: Notice | None = None, of: str = "", **typed: str
) -> Response:
    return page(request, house, actor, "set_up/bookings.html", hours=desk.hours(house), terms=desk.terms(house),
                of=of, said=typed, notice=notice,
                **page_besides(house, "bookings", desk.TERMS, desk.HOURS))  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """Hours, deposits and fees."""
    return _page(request, house, actor)


@router.post("/hours")
def set_hours(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Hours]) -> Response:
    """Somebody's hours, day by day."""
    typed = form.numbered("day")
    days = {int(day): text for day, text in typed.items() if is_number(day)}
    try:
        desk.set_hours(house, actor, form.staff, days, form.seen)
    except Refused as refusal:
        return _page(request, house, actor, wrong(house, refusal), form.staff, **typed)
    return RedirectResponse(urls.set_up_bookings(), 303)


@router.post("/terms")
def set_terms(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Terms]) -> Response:
    """A service's deposit and fee."""
    typed = form.typed(*desk.ASKED)
    try:
        desk.set_terms(house, actor, form.item, typed, form.seen)
    except Refused as refusal:
        return _page(request, house, actor, wrong(house, refusal), form.item, **typed)
    return RedirectResponse(urls.set_up_bookings(), 303)
