"""A file that was handed in: how far it has come, and what it brought."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from abrazo.core.states import FileKind
from abrazo.desk.doors import file_imports as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.notices import wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/files")


@router.get("/{file:int}")
def show(request: Request, house: OpenHouse, actor: SignedIn, file: int) -> Response:
    """How far a file has come."""
    how = desk.standing(house, file)
    back = urls.people() if how.file.kind == FileKind.PEOPLE else urls.calendar()
    notice = wrong(house, how.refusal) if how.refusal else None
    return page(request, house, actor, "files/standing.html", how=how, back=back, said=notice)
