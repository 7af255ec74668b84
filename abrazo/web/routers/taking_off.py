"""Taking lines off a ticket, lowering them, clearing it; what was sent or billed only with a reason and a right."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets import line_changes
from abrazo.desk.tickets import ticket_lines as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.made_lines import made_lines
from abrazo.desk.tickets.naming import place_of
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import taking_off as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import SentView
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import supervisors, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/tickets/{ticket}")
REASONS = (w.KEYED_BY_MISTAKE, w.SENT_BACK, w.CHANGED_MIND, w.NEVER_CAME)


@router.post("/clear")
def clear(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Clear], view: SentView
) -> Response:
    """Everything off the ticket."""
    try:
        line_changes.clear(house, with_lender(house, actor, form), OnTicket(ticket, form.version), form.why)
    except Refused as refusal:
        return _take_off_again(request, house, actor, ticket, form, refusal)
    return RedirectResponse(urls.ticket(ticket, **view.state(line=None)), 303)


@router.get("/take-off")
def take_off(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, line: int = 0) -> Response:
    """A line that was sent or billed, or with none all of them: with a reason and a supervisor's right."""
    return _take_off_page(request, house, actor, ticket, _Asked(line))


@dataclass(frozen=True, slots=True)
class _Asked:
    """What is to be taken off: a line or, with 0, everything; the reason and the number that were typed."""

    line: int
    reason: str = ""
    number: str = ""


def _take_off_page(
    request: Request, house: House, actor: Actor, ticket: int, asked: _Asked, notice: Notice | None = None
) -> Response:
    seen, line = open_ticket(house, ticket), asked.line
    made, nets = made_lines(house, seen), {int(bill.id): bill.net for bill in seen.bill.lines}
    return page(
        request,
        house,
        actor,
        "ticket/take_off.html",
        whole=seen,
        line=seen.line(line) if line else None,
        made=[(one, made[one.id], nets[one.id]) for one in seen.standing if one.id in made and line in (0, one.id)],
        reasons=[house.say(reason) for reason in REASONS],
        place=place_of(house, seen),
        lenders=supervisors(house),
        notice=notice,
        asked=asked,
    )


ASKED_FOR = (Code.LINE_MADE, Code.RIGHT_TAKE_OFF_MADE, Code.NO_REASON, Code.TOO_LONG, Code.WRONG_PIN, Code.PIN_LOCKED,
             Code.PIN_LOCKED_NOW, Code.NOT_A_LENDER)  # fmt: skip


def _take_off_again(
    request: Request, house: House, actor: Actor, ticket: int, form: forms.Clear, refusal: Refused
) -> Response:
    """What was made needs a reason and a right: asked for on a page of its own. Other refusals go their way."""
    if refusal.code not in ASKED_FOR:
        raise refusal
    notice = None if form.reason is None else wrong(house, refusal, otherwise="reason")
    return _take_off_page(request, house, actor, ticket, _Asked(form.line, form.why, form.number), notice)


@router.post("/remove")
def remove(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Remove], view: SentView
) -> Response:
    """A line off the ticket; with a reason when it was made or billed."""
    version, line = form.version, form.line
    try:
        desk.remove_line(house, with_lender(house, actor, form), OnTicket(ticket, version), line, form.why)
    except Refused as refusal:
        return _take_off_again(request, house, actor, ticket, form, refusal)
    return RedirectResponse(urls.ticket(ticket, **view.state(line=None)), 303)


@router.post("/quantity")
def quantity(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Quantity], view: SentView
) -> Response:
    """Another number of a line; fewer with a reason when they were made or billed."""
    version, line, number = form.version, form.line, form.number
    try:
        desk.set_quantity(house, with_lender(house, actor, form), OnTicket(ticket, version), line, number, form.why)
    except Refused as refusal:
        return _take_off_again(request, house, actor, ticket, form, refusal)
    return RedirectResponse(urls.ticket(ticket, **view.state()), 303)
