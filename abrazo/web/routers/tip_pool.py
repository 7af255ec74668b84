"""The pool of tips: dividing it by hours or points, and the list to sign."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import PoolMeasure
from abrazo.desk.context import Actor, House
from abrazo.desk.output import outbox
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.till import tip_pool as desk
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import tip_pool as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/till/pool")


@dataclass(frozen=True, slots=True)
class Asked:
    """What was filled in, and what came of it."""

    typed: Mapping[str, str] = field(default_factory=dict)
    shares: Mapping[str, int] = field(default_factory=dict)
    notice: Notice | None = None


def _page(request: Request, house: House, actor: Actor, asked: Asked) -> Response:
    held, before = desk.in_pool(house), desk.divided_today(house)
    return page(request, house, actor, "till/pool.html", held=held, people=house.staff(), before=before,
                shares=asked.shares, typed=asked.typed, notice=asked.notice)  # fmt: skip


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """What lies in the pool, and who worked how long."""
    return _page(request, house, actor, Asked({"measure": PoolMeasure.HOURS}))


@router.post("")
def divide(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Divide]) -> Response:
    """Work out who has what, or divide it."""
    weights = form.numbered("weight")
    typed = form.typed("measure", "amount") | {f"weight-{person}": text for person, text in weights.items()}
    try:
        wanted = desk.Division(form.measure, weights, read_money(house, form.amount, "amount"))
        if form.do != "divide":
            shares = {one.person: one.amount for one in desk.work_out(house, wanted)}
            return _page(request, house, actor, Asked(typed, shares))
        made = desk.divide(house, actor, wanted, form.key)
    except Refused as refusal:
        return _page(request, house, actor, Asked(typed, notice=wrong(house, refusal, otherwise="weights")))
    return RedirectResponse(urls.pool_list(made), 303)


@router.get("/{division:int}")
def listed(request: Request, house: OpenHouse, actor: SignedIn, division: int, printed: str = "") -> Response:
    """Who has what of a pool that was divided."""
    return _listed(request, house, actor, division, printed == "yes")


def _listed(
    request: Request, house: House, actor: Actor, division: int, printed: bool, notice: Notice | None = None
) -> Response:
    made, shares = desk.read_division(house, division)
    return page(request, house, actor, "till/pool_list.html", made=made, shares=shares, people=house.staff(),
                printed=printed, notice=notice)  # fmt: skip


@router.post("/{division:int}/print")
def print_list(request: Request, house: OpenHouse, actor: SignedIn, division: int, form: Sent[forms.Print]) -> Response:
    """Print the list, to be signed."""
    try:
        outbox.print_pool(house, actor, division, form.key)
    except Refused as refusal:
        return _listed(request, house, actor, division, False, wrong(house, refusal))
    return RedirectResponse(urls.pool_list(division, printed="yes"), 303)
