"""Set-up: which role has which right."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import StaffRole
from abrazo.desk.context import Actor, House
from abrazo.desk.setup import role_rights as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import role_rights as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.set_up_page import page_besides

router = APIRouter(prefix="/set-up/rights")


def _page(request: Request, house: House, actor: Actor, notice: Notice | None = None) -> Response:
    return page(request, house, actor, "set_up/rights.html", rows=desk.all_rights(house), roles=list(StaffRole),
                notice=notice, **page_besides(house, "rights", desk.ROLE_RIGHTS))  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """Every right, and the roles that have it."""
    return _page(request, house, actor)


@router.post("")
def change(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Change]) -> Response:
    """A role has a right from now on, or not."""
    try:
        desk.set_right(house, actor, form.role, form.right, allowed=form.allowed)
    except Refused as refusal:
        return _page(request, house, actor, wrong(house, refusal))
    return RedirectResponse(urls.set_up_rights(), 303)
