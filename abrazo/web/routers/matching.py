"""Match by route: charges against what machines and service say; their payouts."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output.views.report import latest_day
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.till import payouts
from abrazo.desk.till.views.matching import match_day
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import till as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/till")


def _match(
    request: Request,
    house: House,
    actor: Actor,
    day: int,
    notice: Notice | None = None,
    sent: Mapping[str, str] | None = None,
) -> Response:
    chosen = day or latest_day(house)
    if chosen is None:
        raise NotFound("no day yet")
    matched = match_day(house, chosen, sent)
    waits = payouts.clearing(house, (*house.devices.machines, house.devices.service.name))
    typed = notice.typed if notice else {}
    return page(request, house, actor, "till/match.html", matched=matched, waits=waits, typed=typed, notice=notice)


@router.get("/match")
def match(request: Request, house: OpenHouse, actor: SignedIn, day: int = 0) -> Response:
    """Our charges against what machines and service say, each mismatch with its cause and its remedy."""
    return _match(request, house, actor, day)


@router.post("/match")
def match_file(
    request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.MatchFile], day: int = 0
) -> Response:
    """The same, with one device's batch file that was brought along."""
    try:
        data, _ = form.read_file(Code.NO_BATCH_FILE)
    except Refused as refusal:
        return _match(request, house, actor, day, wrong(house, refusal, form.device))
    return _match(request, house, actor, day, sent={form.device: data.decode("utf-8", "replace")})


@router.post("/payout")
def payout(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Payout]) -> Response:
    """A payout of a machine or the service came to the bank."""
    try:
        arrived = read_money(house, form.arrived, "arrived")
        fee = read_money(house, form.fee, "fee") if form.fee.strip() else 0
        payouts.receive_payout(house, actor, form.device, (arrived, fee), form.key)
    except Refused as refusal:
        notice = wrong(house, refusal, otherwise="arrived").keeping(form.typed("device", "arrived", "fee"))
        return _match(request, house, actor, 0, notice)
    return RedirectResponse(urls.match(), 303)
