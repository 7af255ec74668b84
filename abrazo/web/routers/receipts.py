"""Receipts on screen and on paper."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk import send as desk
from abrazo.desk.house import Actor, House
from abrazo.desk.look.receipt import payer_name, receipt_of
from abrazo.desk.whole import read_whole
from abrazo.formats.barcode import code128
from abrazo.formats.receipt_text import receipt_text
from abrazo.web import urls
from abrazo.web.forms import Notice, act_key
from abrazo.web.pages import page
from abrazo.web.wires import OpenHouse, Sent, SignedIn

router = APIRouter(prefix="/tickets/{ticket}/receipts/{payer}")


def _page(
    request: Request, house: House, actor: Actor, ticket: int, payer: int, notice: Notice | None = None
) -> Response:
    whole = read_whole(house, ticket)
    whole.payer(payer)
    receipt = receipt_of(house, whole, payer)
    status = 422 if notice and notice.kind == "wrong" else 200
    return page(
        request,
        house,
        actor,
        "receipts/page.html",
        status,
        whole=whole,
        payer=payer,
        name=payer_name(whole, payer),
        receipt=receipt,
        paper=receipt_text(receipt),
        bars=code128(receipt.code),
        notice=notice,
    )


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, printed: str = "") -> Response:
    notice = Notice("done", "Printed. The paper is on the device desk.") if printed else None
    return _page(request, house, actor, ticket, payer, notice)


@router.post("")
def print_it(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, form: Sent) -> Response:
    read_whole(house, ticket).payer(payer)
    try:
        desk.print_receipt(house, actor, ticket, payer, act_key(form))
    except Refused as refusal:
        return _page(request, house, actor, ticket, payer, Notice("wrong", refusal.what))
    return RedirectResponse(urls.receipt(ticket, payer) + "?printed=yes", 303)
