"""Past tickets."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from abrazo.desk.look.past import history, past_page
from abrazo.desk.look.receipt import place_of, receipt_of
from abrazo.desk.whole import read_whole
from abrazo.formats.receipt_text import receipt_text
from abrazo.web.pages import page
from abrazo.web.wires import OpenHouse, SignedIn

router = APIRouter()


@router.get("/past")
def show(request: Request, house: OpenHouse, actor: SignedIn, page_number: int = 1, chosen: int = 0) -> Response:
    """The list, and one ticket with its receipts."""
    listed = past_page(house, page_number)
    number = chosen or (listed.tickets[0].id if listed.tickets else 0)
    whole = read_whole(house, number) if number else None
    return page(
        request,
        house,
        actor,
        "past/page.html",
        listed=listed,
        whole=whole,
        place="" if whole is None else place_of(house, whole),
        papers=[]
        if whole is None
        else [(p.id, p.letter, receipt_text(receipt_of(house, whole, p.id))) for p in whole.payers],
        entries=history(house, number) if number else [],
        people=house.staff(),
        notice=None,
    )
