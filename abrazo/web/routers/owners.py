"""What the owners of units have of their hires."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.output import owner_statements as desk
from abrazo.desk.payments.statements import read_range
from abrazo.desk.permissions import Right, need
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/hire/owners")


def _page(
    request: Request, house: House, actor: Actor, owner: str, asked: tuple[str, str], notice: Notice | None = None
) -> Response:
    need(actor, Right.SEE_REPORTS)
    known = desk.owners(house)
    try:
        dates = read_range(house, *asked)
    except Refused as refusal:
        dates, notice = read_range(house, "", ""), wrong(house, refusal)
    chosen = owner or next(iter(known), "")
    told = desk.owner_statement(house, actor, chosen, *dates) if chosen else None
    rows = [(row, desk.in_words(house, row)) for row in told.rows] if told else []
    typed = {"since": asked[0] or dates[0].isoformat(), "until": asked[1] or dates[1].isoformat()}
    return page(
        request, house, actor, "hire/owners.html", owners=known, told=told, rows=rows, typed=typed, notice=notice
    )


@router.get("")
def show(
    request: Request, house: OpenHouse, actor: SignedIn, owner: str = "", since: str = "", until: str = ""
) -> Response:
    """What an owner has of hires over a range of business dates."""
    return _page(request, house, actor, owner, (since.strip(), until.strip()))


@router.get("/owner.csv")
def file(
    request: Request, house: OpenHouse, actor: SignedIn, owner: str = "", since: str = "", until: str = ""
) -> Response:
    """The same as a file."""
    asked = since.strip(), until.strip()
    try:
        dates = read_range(house, *asked)
    except Refused as refusal:
        return _page(request, house, actor, owner, asked, wrong(house, refusal))
    headers = {"content-disposition": 'attachment; filename="owner.csv"'}
    data = desk.owner_file(house, actor, owner, *dates)
    return Response(data, media_type="text/csv; charset=utf-8", headers=headers)
