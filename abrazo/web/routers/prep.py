"""Sending lines to kitchen and bar, and the queue that stands there."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.desk.context import NotFound
from abrazo.desk.output import outbox as sending
from abrazo.desk.tickets import prep as desk
from abrazo.desk.tickets.views.prep import PLACES, queue_of
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, Sent, SignedIn
from abrazo.web.forms import View, act_key, text, whole, wholes
from abrazo.web.pages import page

router = APIRouter()


@router.post("/tickets/{ticket}/send")
def send(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent) -> Response:
    """Send what was not sent yet: all of it, or the lines of a course."""
    lines = wholes(form, "lines")
    key = act_key(form)
    desk.send(house, actor, ticket, whole(form, "version"), lines, key)
    if text(form, "bill") == "too":
        sending.print_bills(house, actor, ticket, key)
    sending.send_waiting(house)
    return RedirectResponse(urls.ticket(ticket, **View.of(form).state()), 303)


@router.get("/prep/{place}")
def queue(request: Request, house: OpenHouse, actor: SignedIn, place: str) -> Response:
    """What a place has to prepare."""
    if place not in PLACES:
        raise NotFound(f"nothing is prepared at {place!r}")
    return page(request, house, actor, "prep/queue.html", q=queue_of(house, place), places=PLACES)


@router.post("/prep/slips/{slip}")
def mark(house: OpenHouse, actor: SignedIn, slip: int, form: Sent) -> Response:
    """Done, or called back."""
    act = desk.recall if text(form, "what") == "recall" else desk.done
    return RedirectResponse(urls.prep(act(house, actor, slip).place), 303)


@router.post("/prep/{place}/sending")
def set_sending(house: OpenHouse, actor: SignedIn, place: str, form: Sent) -> Response:
    """Whether lines come at once or when they are sent."""
    desk.set_sending(house, actor, text(form, "how"))
    return RedirectResponse(urls.prep(place), 303)
