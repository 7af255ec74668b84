"""Set-up: the floor plan, by dragging or by figures."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import Shape
from abrazo.desk.context import Actor, House
from abrazo.desk.setup import floor as desk
from abrazo.desk.setup.floor import Typed
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import floor as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.set_up_page import page_besides

router = APIRouter(prefix="/set-up/floor")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, spot: str = "") -> Response:
    """The floor plan and its editor."""
    return _page(request, house, actor, spot)


def _page(
    request: Request,
    house: House,
    actor: Actor,
    spot: str,
    notice: Notice | None = None,
    typed: dict[str, str] | None = None,
) -> Response:
    spots = desk.spots(house)
    return page(
        request,
        house,
        actor,
        "set_up/floor.html",
        spots=spots,
        chosen=next((one for one in spots if one.id == spot), None),
        areas=desk.areas(house),
        shapes=list(Shape),
        size=(desk.WIDTH, desk.HEIGHT),
        notice=notice,
        typed=typed or {},
        **page_besides(house, "floor", desk.TABLES),
    )


@router.post("")
def change(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Change]) -> Response:
    """Keep what was typed or dragged, or turn, add, remove."""
    spot, what = form.spot, form.what
    typed = form.typed_for(Typed)
    try:
        if what == "add":
            spot = desk.add(house, actor, form.area, form.key)
        elif what == "turn":
            desk.turn(house, actor, spot, form.seen)
        elif what == "remove":
            desk.remove(house, actor, spot, form.seen)
            spot = ""
        else:
            desk.change(house, actor, spot, Typed(**typed), form.seen)
    except Refused as refusal:
        return _page(request, house, actor, spot, wrong(house, refusal), typed)
    return RedirectResponse(urls.floor(spot=spot), 303)
