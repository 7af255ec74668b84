"""What is held of a person: written out as a file, and erased."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.overview import held as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import people as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import wrong
from abrazo.web.pages import tell
from abrazo.web.person_page import person_page
from abrazo.words import phrases as w

router = APIRouter(prefix="/people/{person:int}")


@router.get("/held.json")
def write_out(house: OpenHouse, actor: SignedIn, person: int) -> Response:
    """Everything that is held of somebody."""
    data = desk.write_out(house, actor, person)
    headers = {"content-disposition": f'attachment; filename="person-{person}.json"'}
    return Response(data, media_type="application/json", headers=headers)


@router.post("/erase")
def erase(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Erase]) -> Response:
    """What is personal of them goes; asked twice."""
    try:
        desk.erase(house, actor, person, form.key)
    except Refused as refusal:
        return person_page(request, house, actor, person, change=True, notice=wrong(house, refusal))
    tell(request, house.say(w.IS_ERASED))
    return RedirectResponse(urls.person(person), 303)
