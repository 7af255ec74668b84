"""Set-up: what people held before the house kept it here, brought in from files."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.core.states import HeldKind, Right
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import has
from abrazo.desk.setup import brought, thing_files
from abrazo.desk.setup.brought_rows import HELD
from abrazo.desk.setup.fields import in_words
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import set_up_things as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, said, wrong
from abrazo.web.pages import page
from abrazo.web.set_up_frame import frame
from abrazo.words import set_up as words

router = APIRouter(prefix="/set-up/brought")
SHOWN = 12  # rows of what is new


def _page(
    request: Request, house: House, actor: Actor, kind: HeldKind, file: int = 0, notice: Notice | None = None
) -> Response:
    held, day = HELD[kind], house.open_day()
    may_see = has(actor.staff, Right.SET_UP)  # whole numbers of gift cards stand in files
    found = thing_files.kept(house, kind, file) if may_see else None
    told = brought.look_at(house, held, found[0]) if found else None
    fields = [one for one in held.fields if one.id in words.HELD[kind]]
    first = told.new[:SHOWN] if told else []
    return page(request, house, actor, "set_up/brought.html", kind=kind, columns=words.HELD[kind], file=file,
                told=told, rows=[[in_words(house, one, row[one.id]) for one in fields] for row in first],
                faults=[(one.number, one.column, said(house, one.why)) for one in told.faults] if told else [],
                names={id: words.TABLES[id] for id in HELD}, latest=brought.latest(house), day=day.id if day else 0,
                staff=house.staff(), notice=notice, **frame(here="brought"))  # fmt: skip


@router.get("")
def show(
    request: Request, house: OpenHouse, actor: SignedIn, kind: HeldKind = HeldKind.STORED_VALUE, file: int = 0
) -> Response:
    """What can come in, as which columns, and what came in; with a file, what it would bring."""
    return _page(request, house, actor, kind, file)


@router.post("/look")
def look_at(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.LookAtHeld]) -> Response:
    """Keep a file, and show what it would bring."""
    try:
        data, name = form.read_file(Code.NOT_A_TABLE)
        brought.look_at(house, HELD[form.kind], data)
        number = thing_files.keep(house, actor, form.kind, data, name)
    except Refused as refusal:
        return _page(request, house, actor, form.kind, 0, wrong(house, refusal, "file"))
    return RedirectResponse(urls.set_up_brought(kind=form.kind, file=number), 303)


@router.post("")
def bring_in(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.BringIn]) -> Response:
    """Bring in what the file says, all of it or nothing."""
    try:
        data, name = thing_files.still_kept(house, form.kind, form.file)
        brought.bring_in(house, actor, HELD[form.kind], data, name, form.key)
    except Refused as refusal:
        return _page(request, house, actor, form.kind, form.file, wrong(house, refusal, "file"))
    return RedirectResponse(urls.set_up_brought(kind=form.kind), 303)


@router.post("/back")
def take_back(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.TakeBack]) -> Response:
    """Take back all that came with a file."""
    try:
        brought.take_back(house, actor, form.brought)
    except Refused as refusal:
        return _page(request, house, actor, HeldKind.STORED_VALUE, 0, wrong(house, refusal, "taken_back"))
    return RedirectResponse(urls.set_up_brought(), 303)
