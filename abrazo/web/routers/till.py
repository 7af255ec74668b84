"""The till so far."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from abrazo.desk.look.till import till_page
from abrazo.web.pages import page
from abrazo.web.wires import OpenHouse, SignedIn

router = APIRouter()


@router.get("/till")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    return page(request, house, actor, "till/page.html", t=till_page(house, actor.till), notice=None)
