"""An account's terms and members, reminders, and what is written off."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.output import reminders
from abrazo.desk.payments import account_terms as desk
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import people as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import wrong
from abrazo.web.pages import tell
from abrazo.web.person_page import person_page
from abrazo.web.supervisor_override import ask_to_lend, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/people/{person:int}/account")


@router.post("/terms")
def terms(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.AccountTerms]) -> Response:
    """Limit, reference and members."""
    try:
        if form.without:
            desk.end_member(house, actor, person, form.without)
        elif form.member:
            limit = read_money(house, form.member_limit, "member-limit") if form.member_limit.strip() else None
            desk.set_member(house, actor, person, form.member, limit)
        else:
            limit = read_money(house, form.limit, "limit") if form.limit.strip() else None
            desk.set_terms(house, actor, person, limit, reference=form.reference == "yes")
    except Refused as refusal:
        typed = {"limit": form.limit, "member-limit": form.member_limit}
        return person_page(request, house, actor, person, False, wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.person(person), 303)


@router.post("/write-off")
def write_off(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.WriteOff]) -> Response:
    """What of an invoice will never be paid."""
    try:
        amount = read_money(house, form.amount, "write-off") if form.amount.strip() else None
        by = with_lender(house, actor, form)
        desk.write_off(house, by, person, form.payment, desk.GivenUp(amount, form.reason), form.key)
    except Refused as refusal:
        ask_to_lend(refusal)
        typed = {"write-off": form.amount, "reason": form.reason, "payment": str(form.payment)}
        return person_page(request, house, actor, person, False, wrong(house, refusal).keeping(typed))
    tell(request, house.say(w.IS_WRITTEN_OFF))
    return RedirectResponse(urls.person(person), 303)


@router.post("/remind")
def remind(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Remind]) -> Response:
    """A reminder of what is overdue, by e-mail."""
    try:
        reminders.remind(house, actor, person, form.key)
    except Refused as refusal:
        return person_page(request, house, actor, person, False, wrong(house, refusal))
    tell(request, house.say(w.IS_REMINDED))
    return RedirectResponse(urls.person(person), 303)
