"""People: searching, a person's sheet, adding, changing, reading them from a file."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.core.states import FileKind, OwnAbout
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import file_imports
from abrazo.desk.overview.person import newest_people, person_hits
from abrazo.desk.payments import accounts, cards
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.people import people as desk
from abrazo.desk.people.own_fields import said_of
from abrazo.desk.tickets import memberships
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import people as forms
from abrazo.web.forms.base import LARGEST_LIST, Sent, own_typed
from abrazo.web.forms.next_visit import AskedVisit
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.person_page import person_page
from abrazo.words import phrases as w

router = APIRouter(prefix="/people")


def _list(
    request: Request,
    house: House,
    actor: Actor,
    q: str = "",
    notice: Notice | None = None,
) -> Response:
    hits, number = newest_people(house)
    if q.strip():
        hits = person_hits(house, desk.find_people(house, q))
    digits = q.replace(" ", "").lstrip("+").isdigit()
    offered = {"phone": q.strip()} if digits else {"name": q.strip()}
    return page(request, house, actor, "people/list.html", hits=hits, number=number, q=q, notice=notice,
                own=said_of(house, OwnAbout.PERSON),
                typed=notice.typed if notice and notice.typed else offered)  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, q: str = "") -> Response:
    """People, found by any part of a name, phone or e-mail."""
    return _list(request, house, actor, q[:80])


@router.post("")
def add(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Add]) -> Response:
    """Somebody new."""
    typed = {**form.typed(*desk.FACTS, "another"), **own_typed(form)}
    try:
        person = desk.add_person(house, actor, typed, form.key)
    except Refused as refusal:
        return _list(request, house, actor, "", wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.person(person), 303)


@router.get("/{person:int}")
def sheet(
    request: Request,
    house: OpenHouse,
    actor: SignedIn,
    person: int,
    visit: AskedVisit,
) -> Response:
    """All about somebody."""
    notice = Notice("done", house.say(w.BOOKED_NEXT)) if visit.booked else visit.notice
    return person_page(request, house, actor, person, request.query_params.get("change") == "yes", notice)


@router.post("/{person:int}")
def change(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Facts]) -> Response:
    """Change somebody's facts."""
    typed = {**form.typed(*desk.FACTS, "another"), **own_typed(form)}
    try:
        desk.change_person(house, actor, person, typed)
    except Refused as refusal:
        return person_page(request, house, actor, person, True, wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.person(person), 303)


@router.post("/{person:int}/account")
def pay_account(
    request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.PayAccount]
) -> Response:
    """A ticket on which the person pays what is owed."""
    typed = {"amount": form.amount}
    try:
        if invoices := list(form.invoice):
            ticket = accounts.receive_invoices(house, actor, person, invoices, form.key)
        else:
            amount = read_money(house, typed["amount"], "account")
            ticket = accounts.receive(house, actor, person, amount, form.key)
    except Refused as refusal:
        return person_page(request, house, actor, person, False, wrong(house, refusal, "account").keeping(typed))
    return RedirectResponse(urls.ticket(ticket, view="pay"), 303)


@router.post("/{person:int}/membership")
def membership(
    request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Membership]
) -> Response:
    """Somebody becomes a member until a day, or a membership ends today."""
    typed = {"until": form.until, "rest-from": form.rest_from, "rest-to": form.rest_to}
    try:
        if ended := form.end:
            memberships.end_membership(house, actor, person, ended)
        elif form.rest:
            memberships.pause_membership(house, actor, person, form.rest, (form.rest_from, form.rest_to), form.key)
        else:
            memberships.give_membership(house, actor, person, form.kind, typed["until"], form.key)
    except Refused as refusal:
        return person_page(request, house, actor, person, False, wrong(house, refusal, "until").keeping(typed))
    return RedirectResponse(urls.person(person), 303)


@router.post("/{person:int}/store-card")
def store_card(
    request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.StoreCard]
) -> Response:
    """The payment service keeps a card of somebody's, for payments to come. Number and code are not shown again."""
    keyed = cards.Keyed(form.number, form.expiry, form.code, keep=True)
    try:
        cards.store(house, actor, person, keyed, form.key)
    except Refused as refusal:
        typed = {"expiry": keyed.expiry}
        return person_page(request, house, actor, person, False, wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.person(person), 303)


@router.post("/{person:int}/store-account")
def store_account(
    request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.StoreAccount]
) -> Response:
    """The payment service keeps a bank account of somebody's, to collect from. Its number is not shown again."""
    try:
        account = cards.BankAccount(form.holder, form.account_number, form.agreed)
        cards.store_account(house, actor, person, account, form.key)
    except Refused as refusal:
        typed = {"holder": form.holder, "agreed": "yes" if form.agreed else ""}
        return person_page(request, house, actor, person, False, wrong(house, refusal, "holder").keeping(typed))
    return RedirectResponse(urls.person(person), 303)


@router.post("/{person:int}/forget-card")
def forget_card(house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.ForgetCard]) -> Response:
    """A stored card is not offered any more."""
    cards.forget(house, actor, person, form.card)
    return RedirectResponse(urls.person(person), 303)


@router.post("/import")
def read(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Read]) -> Response:
    """A file with people, vCard or CSV, to be read beside the pages; all or none."""
    try:
        brought = form.read_file(Code.NO_PEOPLE_FILE, LARGEST_LIST)
        file = file_imports.hand_in(house, actor, FileKind.PEOPLE, brought, form.key)
    except Refused as refusal:
        return _list(request, house, actor, "", wrong(house, refusal, "file"))
    return RedirectResponse(urls.file(file), 303)
