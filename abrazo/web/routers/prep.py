"""Sending lines to kitchen and bar, and the queue that stands there."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.states import Does
from abrazo.desk.context import NotFound
from abrazo.desk.doors.views.jobs import to_do
from abrazo.desk.output import outbox as sending
from abrazo.desk.tickets import prep as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.views.prep import queue_of, waiting
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import prep as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import SentView
from abrazo.web.pages import page, tell
from abrazo.words import phrases as w

router = APIRouter()
WORKSHOP = "workshop"


@router.post("/tickets/{ticket}/send")
def send(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Send], view: SentView
) -> Response:
    """Send what was not sent yet: all of it, or the lines of a course."""
    lines = list(form.lines)
    key = form.key
    new = [one for one in desk.unsent(house, load_ticket(house, ticket)) if not lines or one.line.id in lines]
    desk.send(house, actor, OnTicket(ticket, form.version, key), lines)
    if sent := desk.to_send(new):
        tell(request, house.say(w.SENT_NOW, portions=sent.portions, places=", ".join(sent.places)))
    if form.bill == "too":
        sending.print_bills(house, actor, ticket, key)
    sending.send_waiting(house)
    return RedirectResponse(urls.ticket(ticket, **view.state()), 303)


@router.get("/prep/workshop")
def workshop(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """The jobs that wait or are in work."""
    cards = to_do(house)
    places = {**waiting(house), WORKSHOP: len(cards)}
    return page(request, house, actor, "prep/workshop.html", cards=cards, places=places, here=WORKSHOP,
                people=house.staff())  # fmt: skip


@router.get("/prep/{place}")
def queue(request: Request, house: OpenHouse, actor: SignedIn, place: str) -> Response:
    """What a place has to prepare."""
    q = queue_of(house, place)
    if place not in q.counts and not q.done:
        raise NotFound(f"nothing is prepared at {place!r}")
    jobs = {WORKSHOP: len(to_do(house))} if Does.JOBS in house.settings.does.split() else {}
    places = {**q.counts, **jobs}
    return page(request, house, actor, "prep/queue.html", q=q, places=places, here=place)


@router.post("/prep/slips/{slip}")
def mark(house: OpenHouse, actor: SignedIn, slip: int, form: Sent[forms.Mark]) -> Response:
    """Done, or called back."""
    act = desk.recall if form.what == "recall" else desk.done
    return RedirectResponse(urls.prep(act(house, actor, slip).place), 303)


@router.post("/prep/{place}/sending")
def set_sending(house: OpenHouse, actor: SignedIn, place: str, form: Sent[forms.SetSending]) -> Response:
    """Whether lines come at once or when they are sent."""
    desk.set_sending(house, actor, form.how)
    return RedirectResponse(urls.prep(place), 303)
