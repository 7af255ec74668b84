"""A payer's tip."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.responses import RedirectResponse, Response

from abrazo.desk.payments import tips as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, Sent, SignedIn
from abrazo.web.forms import View, text, whole

router = APIRouter(prefix="/tickets/{ticket}/tip")


@router.post("")
def tip(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent) -> Response:
    """A payer's tip."""
    version, payer = whole(form, "version"), whole(form, "payer")
    desk.set_tip(house, actor, ticket, version, payer, text(form, "percent"), text(form, "tip"))
    return RedirectResponse(urls.ticket(ticket, **View.of(form).state(tip="", amount="", handed="")), 303)
