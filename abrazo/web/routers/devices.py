"""The device desk: what the stand-ins would do in the world, and what they do next."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.desk.devices import device_desk, tell_machine, tell_printer
from abrazo.web import urls
from abrazo.web.forms import text
from abrazo.web.pages import page
from abrazo.web.wires import OpenHouse, Sent, SignedIn

router = APIRouter(prefix="/devices")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    return page(request, house, actor, "devices/page.html", d=device_desk(house), notice=None)


@router.post("/machine")
def machine(house: OpenHouse, actor: SignedIn, form: Sent) -> Response:
    down = text(form, "line_down") == "yes"
    tell_machine(house, text(form, "name"), text(form, "outcome"), text(form, "tip"), text(form, "pace"), down)
    return RedirectResponse(urls.device_desk(), 303)


@router.post("/printer")
def printer(house: OpenHouse, actor: SignedIn, form: Sent) -> Response:
    tell_printer(house, text(form, "paper_out") == "yes")
    return RedirectResponse(urls.device_desk(), 303)
