"""Set-up: what the house decides once."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import OwnAbout
from abrazo.desk.context import Actor, House
from abrazo.desk.people.own_fields import decide_fields, fields_of, in_words
from abrazo.desk.setup import house_rules as desk
from abrazo.desk.setup.house_rules import HouseRule
from abrazo.desk.tickets import anonymous_accounts
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import house_rules as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.words.catalogue import language_names

router = APIRouter(prefix="/set-up/house")


def _page(request: Request, house: House, actor: Actor, notice: Notice | None = None, typed: str = "") -> Response:
    now = desk.habits(house)
    accounts = anonymous_accounts.accounts_of_house(house)
    return page(request, house, actor, "set_up/house.html", habits=now, accounts=accounts, notice=notice,
                petty=desk.petty_categories(house), typed=typed, languages=language_names(),
                own_person=in_words(fields_of(house, OwnAbout.PERSON)),
                own_job=in_words(fields_of(house, OwnAbout.JOB)))  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """House settings."""
    return _page(request, house, actor)


@router.post("")
def decide(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Decide]) -> Response:
    """One of the house's habits anew."""
    try:
        if isinstance(form.what, HouseRule):
            desk.decide(house, actor, form.what, form.value)
        else:
            decide_fields(house, actor, form.what, form.value)
    except Refused as refusal:
        return _page(request, house, actor, wrong(house, refusal), form.value)
    return RedirectResponse(urls.set_up_house(), 303)
