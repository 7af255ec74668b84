"""Signing in by PIN, and locking the screen."""

from __future__ import annotations

from contextlib import suppress
from urllib.parse import urlsplit
from uuid import uuid4

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import Begins
from abrazo.desk import sign_in as desk
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import counter
from abrazo.desk.setup import practice
from abrazo.desk.till.views.till import is_open
from abrazo.web import kept_form, urls
from abrazo.web.dependencies import NeedsSignIn, OpenHouse, RealHouse, SignedIn, actor_of, mark_screen, screen_of
from abrazo.web.forms import sign_in as forms
from abrazo.web.forms.base import Form, Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.served import PRACTICE, forget_practice, real_house

router = APIRouter()


def _page(request: Request, house: House, who: str, till: str, back: str, notice: Notice | None = None) -> Response:
    people, tills = house.workers(), house.tills_in_use()
    return page(
        request,
        house,
        None,
        "sign_in/page.html",
        people=people,
        tills=tills,
        who=people.get(who),
        till=till if till in tills else desk.usual_till(house, who),
        screens_till=till if till in tills else "",
        back=back,
        day=house.day() if is_open(house) else None,
        pins=request.app.state.pins,
        practise=notice is not None and notice.typed.get("practise") == "yes",
        notice=notice,
    )


def _ours(back: str) -> str:
    """An address to go back to; Today when it is none of ours."""
    return back if back.startswith("/") and not back.startswith("//") and "\\" not in back else urls.today()


@router.get("/sign-in")
def show(request: Request, house: RealHouse, who: str = "", till: str = "", back: str = "") -> Response:
    """Who is at the till."""
    return _page(request, house, who, till, back)


@router.post("/sign-in")
def sign_in(request: Request, house: RealHouse, form: Sent[forms.SignIn]) -> Response:
    """Check a PIN; too many wrong ones lock the person."""
    who, till, back = form.who, form.till, form.back
    try:
        actor = desk.sign_in(house, who, till, form.pin, screen_of(request))
    except Refused as refusal:
        return _page(request, house, who, till, back, wrong(house, refusal, "pin"))
    practises = form.practise or actor.staff.in_training
    try:
        begun = _practising(house, actor) if practises else {"sign_in": desk.begin(house, actor)}
    except Refused as refusal:
        return _page(request, house, who, till, back, wrong(house, refusal, "pin"))
    crosses = practises or PRACTICE in request.session  # what was typed in one house is not sent in the other
    practice.end(real_house(request).database, request.session.get(PRACTICE, ""))  # one that was left, not ended
    forget_practice(request)
    waits = {name: value for name, value in request.session.items() if name == kept_form.KEPT and not crosses}
    request.session.clear()
    request.session.update(waits, till=actor.till.id, **begun)
    back = "" if crosses else back
    safe = _ours(back) if back or actor.till.begins != Begins.COUNTER else urls.counter_mode()
    answer = RedirectResponse(urls.kept(back=safe) if waits else safe, 303)
    mark_screen(request, answer)
    return answer


def _practising(house: House, actor: Actor) -> dict[str, str]:
    name, token = practice.begin(house, actor)
    return {PRACTICE: name, "sign_in": token}


@router.post("/practice/till")
def practise_at(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.PractiseAt]) -> Response:
    """Whoever practises stands at another till, with the same copy."""
    desk.stand_at(house, request.session.get("sign_in", ""), form.till)
    request.session["till"] = form.till
    return RedirectResponse(urls.today(), 303)


@router.get("/kept")
def kept(request: Request, house: OpenHouse, actor: SignedIn, back: str = "") -> Response:
    """What was typed when the sign-in ended, to be sent now or left."""
    form = kept_form.take(request)
    safe = _ours(back)
    if form is None:
        return RedirectResponse(safe, 303)
    return page(request, house, actor, "sign_in/kept.html", kept=form, back=safe)


@router.post("/lock")
def lock(request: Request, house: OpenHouse, form: Sent[Form]) -> Response:
    """The next to sign in comes back to the same page."""
    came = urlsplit(request.headers.get("referer", ""))
    till, back = request.session.get("till", ""), came.path + (f"?{came.query}" if came.query else "")
    if PRACTICE in request.session:
        back = ""  # there it is gone
    with suppress(NeedsSignIn, Refused):  # a paid sale in work ends with the lock; it stays open when it cannot
        counter.close_paid(house, actor_of(request, house), uuid4().hex)
    desk.end(house, request.session.get("sign_in", ""))
    forget_practice(request)
    request.session.clear()
    return RedirectResponse(urls.sign_in(till=till, back=back), 303)
