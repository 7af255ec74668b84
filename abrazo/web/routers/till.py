"""The till: the day so far, paid in and out, counting, closing and opening the day, its report."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request
from starlette.responses import PlainTextResponse, RedirectResponse, Response

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.moments import read_day
from abrazo.core.states import FloatDifference
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.counter import close_all_paid
from abrazo.desk.output import outbox
from abrazo.desk.output import reports as made
from abrazo.desk.output.auditor import zipped
from abrazo.desk.output.views.report import latest_day
from abrazo.desk.output.views.report_page import days_of, report_page
from abrazo.desk.overview.clock import clock_notices
from abrazo.desk.overview.day_end import day_end
from abrazo.desk.overview.owed import owed
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.permissions import Right, has, need
from abrazo.desk.sign_in import many_wrong
from abrazo.desk.stock.stock import counted_goods
from abrazo.desk.till import business_day as desk
from abrazo.desk.till import counting, opening, petty_cash, tips_paid
from abrazo.desk.till.views.till import counts_of, denominations, is_open, till_page
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import till as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, said, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import ask_to_lend, supervisors, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/till")


@dataclass(frozen=True, slots=True)
class ReportAsked:
    """Which days are asked for, one by its id or all between two business dates, and of which till."""

    day: int = 0
    first: str = ""
    last: str = ""
    till: str = ""

    def but(self, **changed: object) -> dict[str, object]:
        """The question as address parameters, with changes."""
        return {"day": self.day or None, "from": self.first, "to": self.last, "till": self.till, **changed}


def _asked(
    day: int = 0,
    first: Annotated[str, Query(alias="from")] = "",
    last: Annotated[str, Query(alias="to")] = "",
    till: str = "",
) -> ReportAsked:
    return ReportAsked(day, first.strip(), last.strip(), till)


Asked = Annotated[ReportAsked, Depends(_asked)]


def _till(
    request: Request, house: House, actor: Actor, notice: Notice | None = None, typed: dict[str, str] | None = None
) -> Response:
    shown = till_page(house, actor.till, None if has(actor.staff, Right.SEE_TIPS) else actor.staff)
    wrong_pins = many_wrong(house) if has(actor.staff, Right.SEE_REPORTS) else []
    return page(
        request,
        house,
        actor,
        "till/page.html",
        t=shown,
        wrong_pins=wrong_pins,
        clock=[said(house, one) for one in clock_notices(house)],
        owed_tips=tips_paid.owed_tips(house) if has(actor.staff, Right.SEE_TIPS) else [],
        notice=notice,
        typed=typed or {},
        goods=counted_goods(house),
        lenders=supervisors(house),
    )


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """The tills of the day; without a day, the page that opens one."""
    if not is_open(house):
        return RedirectResponse(urls.open_day(), 303)
    return _till(request, house, actor)


@router.post("/petty")
def petty(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Petty]) -> Response:
    """Paid out or in."""
    typed = form.typed("amount", "category", "note", "item", "pieces")
    try:
        amount = read_money(house, typed["amount"], "amount")
        moved = petty_cash.MovedCash(form.direction, amount, *(typed[name] for name in list(typed)[1:]))
        petty_cash.move_cash(house, with_lender(house, actor, form), moved, form.key)
    except Refused as refusal:
        return _till(request, house, actor, wrong(house, refusal), typed)
    return RedirectResponse(urls.till(), 303)


@router.post("/bank")
def bank(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Petty]) -> Response:
    """Cash of the drawer goes to the bank or the safe."""
    typed = form.typed("amount", "category", "note")
    try:
        amount = read_money(house, typed["amount"], "amount")
        petty_cash.bank_cash(house, with_lender(house, actor, form), amount, form.key)
    except Refused as refusal:
        return _till(request, house, actor, wrong(house, refusal), typed)
    return RedirectResponse(urls.till(), 303)


@router.post("/tips")
def pay_tips(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.PayTips]) -> Response:
    """Tips of somebody are paid out in cash."""
    try:
        amount = read_money(house, form.amount, "amount")
        tips_paid.pay_tips(house, with_lender(house, actor, form), form.person, amount, form.key)
    except Refused as refusal:
        ask_to_lend(refusal)
        return _till(request, house, actor, wrong(house, refusal, "tips"))
    return RedirectResponse(urls.till(), 303)


@router.post("/petty/{row}/back")
def petty_back(request: Request, house: OpenHouse, actor: SignedIn, row: int, form: Sent[forms.PettyBack]) -> Response:
    """What was paid out or in goes back."""
    try:
        petty_cash.take_back(house, actor, row, form.key)
    except Refused as refusal:
        return _till(request, house, actor, wrong(house, refusal))
    return RedirectResponse(urls.till(), 303)


def _count(
    request: Request, house: House, actor: Actor, notice: Notice | None = None, typed: dict[str, str] | None = None
) -> Response:
    values = [value for value, _ in reversed(denominations(house))]
    counted = actor.till.id in counts_of(house, house.day().id)
    others = counting.others(house, actor)
    return page(request, house, actor, "till/count.html", values=values, counted=counted, others=others, notice=notice,
                typed=typed or {}, lenders=supervisors(house))  # fmt: skip


@router.get("/count")
def count_page(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """The page on which a drawer is counted."""
    return _count(request, house, actor)


@router.post("/count")
def count(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Count]) -> Response:
    """Keep a count."""
    values = [value for value, _ in denominations(house)]
    typed = form.pieces(values) | {"hand-to": form.hand_to}
    try:
        pieces = {value: _pieces(typed[f"n{value}"]) for value in values}
        if form.how == "sum":
            return _count(request, house, actor, typed=typed | {"sum": str(counting.pieces_total(pieces))})
        total = read_money(house, typed["total"], "total") if typed["total"] else None
        what = counting.Counted(pieces, total, form.hand_to if form.how == "hand over" else "")
        if form.how == "hand over" and not form.hand_to:
            raise Refused(Code.HAND_TO_WHOM, "hand-to")
        counting.count_drawer(house, with_lender(house, actor, form), what, form.key)
    except Refused as refusal:
        return _count(request, house, actor, wrong(house, refusal), typed)
    return RedirectResponse(urls.till(), 303)


@router.post("/sum")
def sum_so_far(house: OpenHouse, actor: SignedIn, form: Sent[forms.Counted]) -> Response:
    """What the pieces come to that are typed so far, in words, while they are being counted."""
    values = [value for value, _ in denominations(house)]
    typed = form.pieces(values)
    try:
        pieces = {value: _pieces(typed[f"n{value}"]) for value in values}
        words = house.say(w.COUNTED_SO_FAR, amount=counting.pieces_total(pieces))
    except Refused as refusal:
        words = said(house, refusal)
    return PlainTextResponse(words)


def _pieces(typed: str) -> int:
    if not typed:
        return 0
    if not re.fullmatch(r"[0-9]{1,4}", typed):
        raise Refused(Code.NOT_COUNT, "pieces", typed=typed)
    return int(typed)


def _close(
    request: Request, house: House, actor: Actor, notice: Notice | None = None, typed: dict[str, str] | None = None
) -> Response:
    shown = day_end(house, actor)
    uncounted = [
        (said(house, one), one.facts["till"] == actor.till.name, one.facts["till"]) for one in shown.drawers_open
    ]
    return page(request, house, actor, "till/close.html", d=shown, uncounted=uncounted, notice=notice,
                typed=typed or {}, lenders=supervisors(house))  # fmt: skip


@router.get("/close")
def close_page(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """The view to read before the day is closed."""
    if not is_open(house):
        return RedirectResponse(urls.open_day(), 303)
    return _close(request, house, actor)


@router.post("/close")
def close(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Close]) -> Response:
    """Close the day."""
    typed = form.banked(house.tills())
    try:
        banked = {
            till: read_money(house, typed[desk.bank_field(till)], desk.bank_field(till))
            for till in house.tills_in_use()
            if typed[desk.bank_field(till)]
        }
        by = with_lender(house, actor, form)
        need(by, Right.CLOSE_DAY)
        close_all_paid(house, by, form.key)
        day = desk.close_day(house, by, form.key, banked)
    except Refused as refusal:
        return _close(request, house, actor, wrong(house, refusal, refusal.where or "close"), typed)
    return RedirectResponse(urls.report(day=day) if has(actor.staff, Right.SEE_REPORTS) else urls.open_day(), 303)


@router.get("/report")
def report(request: Request, house: OpenHouse, actor: SignedIn, asked: Asked, printed: str = "") -> Response:
    """The report of a day, or of all days from one business date to another; of all tills or of one."""
    notice = Notice("done", house.say(w.PRINTED)) if printed else None
    try:
        days = _days(house, asked)
    except Refused as refusal:
        days, notice = _days(house, ReportAsked()), wrong(house, refusal)
    shown = report_page(house, actor, days, asked.till if asked.till in house.tills() else "")
    tills = list(house.tills_in_use().values())
    return page(request, house, actor, "till/report.html", r=shown, asked=asked, tills=tills, open=is_open(house),
                notice=notice)  # fmt: skip


@router.get("/report.{form}")
def report_file(house: OpenHouse, actor: SignedIn, asked: Asked, form: str) -> Response:
    """The same as a file: json, csv, xlsx, pdf or text."""
    data = made.report_file(house, actor, _days(house, asked), asked.till, form)
    headers = {"content-disposition": f'attachment; filename="report.{form.replace("text", "txt")}"'}
    return Response(data, media_type=made.MEDIA[form], headers=headers)


@router.get("/owed")
def owed_to_customers(request: Request, house: OpenHouse, actor: SignedIn, on: str = "") -> Response:
    """What is owed to customers now, or was at the end of a business date."""
    notice = None
    try:
        kinds = owed(house, actor, on.strip())
    except Refused as refusal:
        kinds, notice = owed(house, actor), wrong(house, refusal)
    return page(request, house, actor, "till/owed.html", kinds=kinds, on=on.strip(), notice=notice)


@router.get("/auditor.zip")
def auditor(house: OpenHouse, actor: SignedIn, asked: Asked) -> Response:
    """Everything of these days that the books can be checked by."""
    headers = {"content-disposition": 'attachment; filename="auditor.zip"'}
    return Response(zipped(house, actor, _days(house, asked)), media_type="application/zip", headers=headers)


def _days(house: House, asked: ReportAsked) -> list[int]:
    """The days that are asked for, else the latest. Refused when no day has such a date."""
    first, last = asked.first or asked.last, asked.last or asked.first
    if first:
        for name, typed in (("from", first), ("to", last)):
            read_day(typed, name)
        return days_of(house, first, last)
    chosen = asked.day or latest_day(house)
    if chosen is None:
        raise NotFound("no day yet")
    return [chosen]


@router.post("/report")
def print_report(
    request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.PrintReport], day: int = 0
) -> Response:
    """Print a day's report."""
    outbox.print_report(house, actor, day, form.key)
    return RedirectResponse(urls.report(day=day, printed="yes"), 303)


def _open(
    request: Request, house: House, actor: Actor, notice: Notice | None = None, typed: dict[str, str] | None = None
) -> Response:
    values = [value for value, _ in reversed(denominations(house))]
    return page(request, house, actor, "till/open.html", values=values, joins=is_open(house), notice=notice,
                never_closed=opening.never_closed(house), typed=typed or {}, lenders=supervisors(house))  # fmt: skip


def _float(house: House, typed: dict[str, str], values: list[int]) -> opening.Float:
    pieces = {value: _pieces(typed[f"n{value}"]) for value in values}
    total = read_money(house, typed["total"], "total") if typed["total"] else None
    counted = counting.counted_sum(pieces, total)
    if counted is None:
        raise Refused(Code.NO_FLOAT, "total")
    why = chosen(FloatDifference, typed["why"], Code.FLOAT_DIFFERS_BLIND, "why") if typed["why"] else None
    return opening.Float(counted, pieces, why)


@router.get("/open")
def open_page(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """The page on which a day is opened, or a till joins it."""
    if is_open(house) and actor.till.id in house.day().floats:
        return RedirectResponse(urls.till(), 303)
    return _open(request, house, actor)


@router.post("/open")
def open_it(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.OpenIt]) -> Response:
    """The float of this till, by denomination or total, or skipped; it opens the day, or joins the open one."""
    values = [value for value, _ in denominations(house)]
    typed = form.pieces(values)
    typed |= {"why": form.why, "again": form.again}
    try:
        if form.how == "sum":
            pieces = {value: _pieces(typed[f"n{value}"]) for value in values}
            return _open(request, house, actor, typed=typed | {"sum": str(counting.pieces_total(pieces))})
        if form.how == "skip":
            counted = opening.skipped_float(house, with_lender(house, actor, form))
        else:
            counted = _float(house, typed, values)
        if is_open(house):
            opening.count_float(house, actor, counted, form.key)
        else:
            opening.open_day(house, actor, {actor.till.id: counted}, form.key, again=bool(form.again))
    except Refused as refusal:
        return _open(request, house, actor, wrong(house, refusal), typed)
    return RedirectResponse(urls.today(), 303)
