"""The device desk: what the stand-ins would do in the world, and what they do next."""

from __future__ import annotations

import functools
import json
from collections.abc import AsyncIterator

import anyio
from fastapi import APIRouter, Request
from sse_starlette import ServerSentEvent
from starlette.responses import RedirectResponse, Response

from abrazo.desk.output import device_desk as desk
from abrazo.desk.output import outbox as outbox_acts
from abrazo.formats.barcode import code128
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import devices as forms
from abrazo.web.forms.base import Sent
from abrazo.web.pages import page
from abrazo.web.served import served
from abrazo.web.streams import looks, stream

router = APIRouter(prefix="/devices")
LOOK_EVERY, LOOK_FOR = 0.2, 600.0  # seconds; the browser connects again by itself


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, scanned: str = "", at: str = "") -> Response:
    """The device desk."""
    shown = desk.device_desk(house)
    papers = [(sheet.body, code128(sheet.barcode) if sheet.barcode else None) for sheet in shown.sheets]
    return page(request, house, actor, "devices/page.html", d=shown, papers=papers, scanned=scanned[:40],
                scanned_at=at, notice=None)  # fmt: skip


@router.post("/machine")
def machine(house: OpenHouse, actor: SignedIn, form: Sent[forms.Machine]) -> Response:
    """Tell a card machine what comes next."""
    down = form.line_down
    script = desk.script_of(form.outcome, form.tip, form.pace, down)
    desk.tell_machine(house, actor, form.name, script)
    return RedirectResponse(urls.device_desk(), 303)


@router.post("/printer")
def printer(house: OpenHouse, actor: SignedIn, form: Sent[forms.Printer]) -> Response:
    """Take the printer's paper out, or put it in."""
    desk.tell_printer(house, actor, form.paper_out)
    return RedirectResponse(urls.device_desk(), 303)


@router.post("/scanner")
def scanner(house: OpenHouse, actor: SignedIn, form: Sent[forms.Scanner]) -> Response:
    """Scan a code at a till."""
    code, till = form.pick or form.code, form.till
    desk.scan(house, till, code)
    return RedirectResponse(urls.with_state(urls.device_desk(), scanned=code.strip(), at=till), 303)


@router.post("/drawer")
def drawer(house: OpenHouse, actor: SignedIn, form: Sent[forms.Drawer]) -> Response:
    """Push a drawer shut."""
    desk.push_shut(house, form.till)
    return RedirectResponse(urls.device_desk(), 303)


@router.post("/outbox")
def outbox(house: OpenHouse, actor: SignedIn, form: Sent[forms.Outbox]) -> Response:
    """What may have gone out: again, or it did."""
    outbox_acts.settle_doubt(house, actor, form.sheet, again=form.again)
    return RedirectResponse(urls.today() if form.then == "today" else urls.device_desk(), 303)


@router.post("/faults")
def faults(house: OpenHouse, actor: SignedIn, form: Sent[forms.Faults]) -> Response:
    """Let a device fail, or mend it."""
    desk.tell_fault(house, actor, form.device, form.fails)
    return RedirectResponse(urls.device_desk(), 303)


@router.get("/listen")
def listen(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """Server-sent events: codes scanned at this till, and what changes in the house, as they come."""
    return stream(functools.partial(_scans, request, actor.till.id))


async def _scans(request: Request, till: str, ending: anyio.Event) -> AsyncIterator[ServerSentEvent]:
    scanner, pulse = served(request).devices.scanner, served(request).pulse
    seen, change = scanner.count(till), pulse.latest()
    yield ServerSentEvent(json.dumps({"change": change, "tickets": []}), event="changed")
    async for _ in looks(request, ending, LOOK_EVERY, LOOK_FOR):
        if pulse.latest() > change:
            tickets, change = pulse.tickets_after(change), pulse.latest()
            yield ServerSentEvent(json.dumps({"change": change, "tickets": tickets}), event="changed")
        for code in scanner.after(till, seen):
            seen += 1
            yield ServerSentEvent(json.dumps({"code": code}), event="scan")
