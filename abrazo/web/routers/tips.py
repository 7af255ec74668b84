"""A payer's tip."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.responses import RedirectResponse, Response

from abrazo.desk.payments import tips as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import tips as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import SentView

router = APIRouter(prefix="/tickets/{ticket}/tip")


@router.post("")
def tip(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Tip], view: SentView) -> Response:
    """A payer's tip."""
    version, payer = form.version, form.payer
    desk.set_tip(house, actor, OnTicket(ticket, version), payer, desk.TipWanted(form.percent, form.tip, form.sure))
    return RedirectResponse(urls.ticket(ticket, **view.state(tip="", amount="", handed="")), 303)
