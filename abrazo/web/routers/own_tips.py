"""What is one's own: the tips of the day; and the screen turned to the guest."""

from __future__ import annotations

from urllib.parse import urlsplit

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.desk.output import outbox
from abrazo.desk.payments.views.own_tips import own_tips
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import own_tips as forms
from abrazo.web.forms.base import Form, Sent
from abrazo.web.pages import page

router = APIRouter()


@router.get("/my-tips")
def my_tips(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """Only one's own; everybody's stand in the day's report."""
    return page(request, house, actor, "till/own_tips.html", tips=own_tips(house, actor))


@router.post("/last-receipt")
def last_receipt(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.LastReceipt]) -> Response:
    """Print the receipt of what was paid last at this till; it then stands on the screen."""
    ticket, payer = outbox.print_last(house, actor, form.key)
    at = urlsplit(request.headers.get("referer", "")).path
    came = {urls.today(): "today", urls.counter_mode(): "counter"}.get(at, "")
    return RedirectResponse(f"{urls.receipt(ticket, payer)}?printed=yes&came={came}", 303)


@router.post("/notes")
def notes(request: Request, actor: SignedIn, form: Sent[Form]) -> Response:
    """Hide what is for staff only, since the screen is turned to the guest, or show it again."""
    request.session["turned"] = not request.session.get("turned", False)
    came = urlsplit(request.headers.get("referer", ""))
    back = came.path + (f"?{came.query}" if came.query else "")
    return RedirectResponse(back if back.startswith("/") and not back.startswith("//") else urls.today(), 303)
