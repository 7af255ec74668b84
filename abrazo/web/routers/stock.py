"""Goods on the shelves: what is there, and counting it."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.stock import stock as desk
from abrazo.desk.tickets.views.goods import shelf_list
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import stock as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/goods")


def _page(
    request: Request, house: House, actor: Actor, chosen: str = "", notice: Notice | None = None, typed: str = ""
) -> Response:
    shelves, reasons = shelf_list(house), desk.REASONS
    return page(request, house, actor, "goods/page.html", shelves=shelves, reasons=reasons, chosen=chosen,
                notice=notice, typed=typed)  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, item: str = "") -> Response:
    """Goods, their shelves and counts."""
    return _page(request, house, actor, item)


@router.post("/count")
def count(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Count]) -> Response:
    """How many of an item are there now, and why it was counted."""
    item, typed = form.item, form.counted
    try:
        desk.count_goods(house, actor, item, typed, form.reason, form.key)
    except Refused as refusal:
        return _page(request, house, actor, item, wrong(house, refusal, "counted"), typed)
    return RedirectResponse(urls.goods(), 303)
