"""Two records of one person become one, and two again."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.overview import merging as desk
from abrazo.desk.people.people import known
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import people as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import wrong
from abrazo.web.pages import tell
from abrazo.web.person_page import person_page
from abrazo.words import phrases as w

router = APIRouter(prefix="/people/{person:int}")


@router.post("/merge")
def merge(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Merge]) -> Response:
    """Somebody else is the same as this person."""
    try:
        other = known(house, form.other)
        desk.merge(house, actor, other.id, person, form.key)
    except Refused as refusal:
        return person_page(request, house, actor, person, change=True, notice=wrong(house, refusal))
    tell(request, house.say(w.MERGED, name=other.name, other=known(house, person).name))
    return RedirectResponse(urls.person(person, change="yes"), 303)


@router.post("/part")
def part(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Merge]) -> Response:
    """They are two after all."""
    try:
        back = desk.part(house, actor, form.other, form.key)
    except Refused as refusal:
        return person_page(request, house, actor, person, change=True, notice=wrong(house, refusal))
    tell(request, house.say(w.PARTED))
    return RedirectResponse(urls.person(back), 303)
