"""What goes wrong, as pages. Only this file knows status codes.

Refused     422  the page again, with the sentence beside its cause and everything that was typed
Stale       409  the ticket as it is now, who changed what, and everything that was typed
NotFound    404
NotOurs     403  a form without this session's token
NeedsSignIn 303  to the sign-in page, and back afterwards; what was typed waits meanwhile
OnlyCounter 303  to counter mode
Ended       303  to the past ticket
"""

from __future__ import annotations

import logging
import re
import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from urllib.parse import urlsplit

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from markupsafe import escape
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect, Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Busy, DatabaseError, House, NotFound, Stale, Unavailable, why_unavailable
from abrazo.desk.history import told
from abrazo.web import markup, urls
from abrazo.web.dependencies import Ended, GoTo, NeedsSignIn, OnlyCounter, actor_of
from abrazo.web.forms.base import NotOurs
from abrazo.web.forms.view import View
from abrazo.web.kept_form import address_of, keep, sent_again
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.served import PRACTICE, served
from abrazo.web.supervisor_override import supervisors
from abrazo.web.ticket_page import ticket_page
from abrazo.words import phrases as w

log = logging.getLogger("abrazo.web")


def add_handlers(app: FastAPI) -> None:
    """Register a handler for every error of ours."""
    app.add_exception_handler(Refused, _refused)
    app.add_exception_handler(Stale, _stale)
    app.add_exception_handler(NotFound, _not_found)
    app.add_exception_handler(HTTPException, _not_found)
    app.add_exception_handler(RequestValidationError, _not_found)
    app.add_exception_handler(NotOurs, _not_ours)
    app.add_exception_handler(NeedsSignIn, _needs_sign_in)
    app.add_exception_handler(OnlyCounter, _only_counter)
    app.add_exception_handler(Ended, _ended)
    app.add_exception_handler(GoTo, _go_to)
    app.add_exception_handler(ClientDisconnect, _went_away)
    app.add_exception_handler(Busy, _unavailable)
    app.add_exception_handler(DatabaseError, _unavailable)
    app.add_exception_handler(Exception, _broken)


async def _go_to(request: Request, error: Exception) -> Response:
    assert isinstance(error, GoTo)
    return RedirectResponse(error.url, 303)


def _again(request: Request, notice: Notice, status: int) -> Response:
    """The page that the form stood on, with the notice; for forms about a ticket the ticket itself."""
    with _anew(request) as house:
        try:
            actor = actor_of(request, house)
        except NeedsSignIn:
            return page(request, house, None, "_parts/message.html", status, notice=notice)
        ticket = request.path_params.get("ticket")
        form = getattr(request.state, "form", None)
        if ticket is not None and form is not None and notice.where != "pin":
            return ticket_page(request, house, actor, int(ticket), View.of(form), replace(notice, status=status))
        if notice.where == "pin" and form is not None:
            again = sent_again(form, without=("csrf", "key", "lender"))
            return page(request, house, actor, "_parts/lend.html", status, notice=notice, again=again,
                        address=address_of(request), lenders=supervisors(house))  # fmt: skip
        return page(request, house, actor, "_parts/message.html", status, notice=notice)


@contextmanager
def _anew(request: Request) -> Iterator[House]:
    """The house once more: the request's own is closed by the time an error is handled."""
    houses = served(request).houses
    house = houses.lend()
    try:
        yield house
    finally:
        houses.give_back(house)


def _refused(request: Request, error: Exception) -> Response:
    assert isinstance(error, Refused)
    if error.code == Code.NO_DAY and "sign_in" in request.session:
        return RedirectResponse(urls.open_day(), 303)
    with _anew(request) as house:
        notice = wrong(house, error)
    return _again(request, notice, 422)


def _stale(request: Request, error: Exception) -> Response:
    assert isinstance(error, Stale)
    with _anew(request) as house:
        lines = told(house, error.changes)
        sent_again = "x-again" in request.headers  # the page got no answer before
        what = house.say(w.CHANGED_PERHAPS_BY_THIS if sent_again else w.CHANGED_MEANWHILE)
        said = tuple(f"{line.who}, {house.hour(line.at)}: {line.what}" for line in lines)
    return _again(request, Notice("changed", what, details=said), 409)


def _lost(request: Request, status: int, what: str) -> Response:
    return HTMLResponse(_plain(what), status)


def _plain(what: str, more: str = "") -> str:
    look = "button" if more else "button is-on"
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Abrazo</title>'
        '<link rel="stylesheet" href="/static/abrazo.css"></head><body><main id="main" class="message">'
        f"<h1>{what}</h1>{more}"
        f'<p><a class="{look}" href="{urls.today()}">Back to Today</a></p></main></body></html>'
    )


def _not_found(request: Request, error: Exception) -> Response:
    status = getattr(error, "status_code", 404)
    ticket = re.match(r"/tickets/([0-9]{1,18})/", request.url.path)
    if status == 405 and ticket:  # a reload of a form's address
        return RedirectResponse(urls.ticket(int(ticket[1])), 303)
    return _lost(request, status, getattr(error, "detail", "") if status == 400 else w.NOTHING_HERE)


def _not_ours(request: Request, error: Exception) -> Response:
    return _lost(request, 403, w.OTHER_SESSION)


async def _needs_sign_in(request: Request, error: Exception) -> Response:
    back = address_of(request)
    if request.method != "GET":
        if PRACTICE not in request.session:  # what was typed on a copy is not sent in the house
            await keep(request)
        back = urlsplit(request.headers.get("referer", "")).path  # the page that the form stood on
    return RedirectResponse(urls.sign_in(back=back), 303)


def _ended(request: Request, error: Exception) -> Response:
    assert isinstance(error, Ended)
    return RedirectResponse(urls.past(chosen=error.ticket), 303)


def _only_counter(request: Request, error: Exception) -> Response:
    return RedirectResponse(urls.counter_mode(), 303)


def _went_away(request: Request, error: Exception) -> Response:
    """The browser left before its form had arrived: nothing was done, and nobody is there to be told."""
    return Response(status_code=400)


WHY_UNAVAILABLE = {
    Unavailable.BUSY: w.BUSY,
    Unavailable.FULL: w.DISK_FULL,
    Unavailable.READ_ONLY: w.CANNOT_WRITE,
    Unavailable.BROKEN: w.FILE_BROKEN,
}


def _unavailable(request: Request, error: Exception) -> Response:
    """The database could not be used: what was typed stands on the page that says so, and is sent again by a touch."""
    why = why_unavailable(error)
    if why is None:
        return _broken(request, error)
    log.warning("%s %s: the database is unavailable (%s)", request.method, request.url.path, why)
    form = getattr(request.state, "form", None) if request.method == "POST" else None
    again = "".join(markup.hidden(name, value) for name, value in (sent_again(form) if form else []))
    address = escape(address_of(request))
    method = "post" if form else "get"
    look = "button is-next is-big"
    button = f'<form method="{method}" action="{address}">{again}<p><button class="{look}">{w.TRY_AGAIN}</button>'
    answer = HTMLResponse(_plain(WHY_UNAVAILABLE[why], f"{button}</p></form>"), 503)
    answer.headers["retry-after"] = "2"
    return answer


def _broken(request: Request, error: Exception) -> Response:
    reference = getattr(request.state, "request_id", None) or secrets.token_hex(4)
    log.error("reference %s", reference, exc_info=error)
    answer = _lost(request, 500, w.BROKEN.format(reference=reference))
    answer.headers["connection"] = "close"
    return answer
