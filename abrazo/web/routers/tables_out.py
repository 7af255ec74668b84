"""What goes out as tables by dates: tickets, lines, payments, people and the rest."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel
from starlette.responses import Response

from abrazo.core.errors import Code, Refused
from abrazo.core.moments import read_day
from abrazo.core.states import Does, TableKind
from abrazo.desk.context import House, NotFound
from abrazo.desk.output import tables
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.notices import wrong
from abrazo.web.pages import page
from abrazo.web.set_up_frame import frame
from abrazo.words import set_up as words

router = APIRouter(prefix="/set-up/out")
MEDIA = {
    "csv": "text/csv", "jsonl": "application/x-ndjson",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}  # fmt: skip


class Wanted(BaseModel):
    """Which table, as what, from when to when."""

    kind: str
    form: str
    first: str = ""
    last: str = ""


def _offered(house: House) -> dict[str, str]:
    """The kinds with their names, but for what the house does not do."""
    with_bookings = Does.BOOKINGS in house.settings.does.split()
    return {id: name for id, name in words.TABLES.items() if with_bookings or id != TableKind.BOOKINGS}


@router.get("")
def choose(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """What there is, from when to when, as what."""
    return page(request, house, actor, "set_up/out.html", tables=_offered(house), forms=tables.FORMS, typed={},
                notice=None, **frame(here="out"))  # fmt: skip


@router.get("/file")
def write(request: Request, house: OpenHouse, actor: SignedIn, wanted: Annotated[Wanted, Query()]) -> Response:
    """A table as a file."""
    kind, form, first, last = wanted.kind, wanted.form, wanted.first, wanted.last
    if kind not in tables.KINDS or form not in tables.FORMS:
        raise NotFound(f"no {form} of {kind}")
    try:
        between = tuple(
            read_day(typed, where).isoformat() if typed.strip() else otherwise
            for typed, where, otherwise in ((first, "first", tables.EVER[0]), (last, "last", tables.EVER[1]))
        )
        if between[1] < between[0]:
            raise Refused(Code.LIST_DATES, "last")
        data = tables.written(house, actor, kind, form, (between[0], between[1]))
    except Refused as refusal:
        typed = {"first": first, "last": last, "kind": kind, "form": form}
        return page(request, house, actor, "set_up/out.html", tables=_offered(house), forms=tables.FORMS, typed=typed,
                    notice=wrong(house, refusal), **frame(here="out"))  # fmt: skip
    headers = {"content-disposition": f'attachment; filename="{kind}.{form}"'}
    return Response(data, media_type=MEDIA[form], headers=headers)
