"""Set-up: the ways to pay."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import tips
from abrazo.desk.setup import tender_types as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import set_up as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.set_up_page import page_besides

router = APIRouter(prefix="/set-up/tenders")


def _page(
    request: Request,
    house: House,
    actor: Actor,
    notice: Notice | None = None,
    typed: dict[str, str] | None = None,
) -> Response:
    return page(request, house, actor, "set_up/tenders.html", tenders=desk.all_tenders(house),
                tips_to=tips.tips_to(house), notice=notice, typed=typed or {},
                **page_besides(house, "tenders", desk.TENDERS))  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """The ways to pay."""
    return _page(request, house, actor)


@router.post("")
def change(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Change]) -> Response:
    """Switch a way to pay on or off, or let it change places with its neighbour."""
    what, _, tender = form.what.partition(" ")
    try:
        if what in ("on", "off"):
            desk.switch(house, actor, tender, what == "on")
        else:
            desk.move(house, actor, tender, earlier=what == "earlier", seen=form.seen)
    except Refused as refusal:
        return _page(request, house, actor, wrong(house, refusal.at("")))
    return RedirectResponse(urls.set_up_tenders(), 303)


@router.post("/tips")
def share_tips(house: OpenHouse, actor: SignedIn, form: Sent[forms.ShareTips]) -> Response:
    """Whose the tips of new tickets are."""
    tips.share_tips(house, actor, form.tips_to)
    return RedirectResponse(urls.set_up_tenders(), 303)


@router.post("/add")
def add(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Add]) -> Response:
    """A recorded way to pay of the house's own."""
    typed = form.typed("name", "reference")
    try:
        desk.add(house, actor, typed["name"], typed["reference"], form.key)
    except Refused as refusal:
        return _page(request, house, actor, wrong(house, refusal), typed)
    return RedirectResponse(urls.set_up_tenders(), 303)
