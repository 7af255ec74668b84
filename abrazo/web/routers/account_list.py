"""What customers owe on account, and statements of many accounts at once."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.output import statement_runs
from abrazo.desk.output.account_list import account_list, account_list_file
from abrazo.desk.payments.statements import month_before, read_range
from abrazo.formats.statement import statements_pdf
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import account_list as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/accounts")


def _page(
    request: Request,
    house: House,
    actor: Actor,
    asked: tuple[str, str],
    ticked: tuple[int, ...] | None = None,
    notice: Notice | None = None,
) -> Response:
    try:
        dates = read_range(house, *asked)
    except Refused as refusal:
        dates, notice = read_range(house, "", ""), wrong(house, refusal)
    told = account_list(house, actor, *dates)
    chosen = {row.person.id for row in told.rows if row.closing} if ticked is None else set(ticked)
    since, until = asked
    return page(
        request,
        house,
        actor,
        "accounts/list.html",
        told=told,
        ticked=chosen,
        month=[day.isoformat() for day in month_before(house)],
        typed={"since": since or told.start, "until": until or told.end},
        runs=statement_runs.latest_runs(house, actor),
        notice=notice,
    )


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, since: str = "", until: str = "") -> Response:
    """What customers owe on account, by age, over a range of business dates."""
    return _page(request, house, actor, (since.strip(), until.strip()))


@router.get("/accounts.csv")
def file(request: Request, house: OpenHouse, actor: SignedIn, since: str = "", until: str = "") -> Response:
    """The same as a file."""
    asked = since.strip(), until.strip()
    try:
        data = account_list_file(house, actor, *read_range(house, *asked))
    except Refused as refusal:
        return _page(request, house, actor, asked, notice=wrong(house, refusal))
    headers = {"content-disposition": 'attachment; filename="accounts.csv"'}
    return Response(data, media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/statements")
def send(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.SendStatements]) -> Response:
    """Make the statements of those that are ticked."""
    try:
        run = statement_runs.ask_for(house, actor, read_range(house, form.since, form.until), form.person, form.key)
    except Refused as refusal:
        return _page(request, house, actor, (form.since, form.until), form.person, wrong(house, refusal))
    return RedirectResponse(urls.statement_run(run), 303)


@router.get("/statements/{run:int}")
def progress(request: Request, house: OpenHouse, actor: SignedIn, run: int) -> Response:
    """How far they have come."""
    told = statement_runs.progress_of(house, actor, run)
    return page(request, house, actor, "accounts/statements.html", told=told)


@router.post("/statements/{run:int}/stop")
def stop(house: OpenHouse, actor: SignedIn, run: int, form: Sent[forms.StopStatements]) -> Response:
    """Make no more of them."""
    statement_runs.stop(house, actor, run)
    return RedirectResponse(urls.statement_run(run), 303)


@router.get("/statements/{run:int}/statements.pdf")
def papers(house: OpenHouse, actor: SignedIn, run: int) -> Response:
    """Those that go out on paper, in one file."""
    data = statements_pdf(statement_runs.papers_of(house, actor, run))
    headers = {"content-disposition": f'attachment; filename="statements-{run}.pdf"'}
    return Response(data, media_type="application/pdf", headers=headers)
