"""Jobs that are there: changed, agreed upon anew, called off, reminded of."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import OwnAbout
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import job_changes as desk
from abrazo.desk.doors.jobs import PricedTask, read_job
from abrazo.desk.doors.views.jobs import presets, tasks_offered
from abrazo.desk.history import last_about
from abrazo.desk.output import outbox
from abrazo.desk.people.own_fields import said_of
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import jobs as forms
from abrazo.web.forms.base import Sent, own_typed
from abrazo.web.job_page import job_page
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.web.supervisor_override import ask_to_lend, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/jobs/{job:int}")


def _change_page(
    request: Request, house: House, actor: Actor, job: int, typed: dict[str, str], notice: Notice | None = None
) -> Response:
    one = read_job(house, job)
    filled = {"thing": one.thing, "note": one.note, "date": one.due_at[:10], "time": one.due_at[11:16],
              "place": one.place, "staff": one.staff or "", **typed}  # fmt: skip
    return page(
        request,
        house,
        actor,
        "jobs/change.html",
        job=one,
        latest=last_about(house, "job", job),
        filled=filled,
        own=said_of(house, OwnAbout.JOB, job),
        tasks=tasks_offered(house),
        places=presets(house)[1],
        workers=[p for p in house.workers().values() if p.takes_jobs],
        notice=notice,
    )


@router.get("/change")
def ask(request: Request, house: OpenHouse, actor: SignedIn, job: int) -> Response:
    """Everything of a job, to be changed."""
    return _change_page(request, house, actor, job, {})


@router.post("/change")
def change(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.Change]) -> Response:
    """Change it; all of it or nothing."""
    extra = {name: str(text) for name, text in (form.model_extra or {}).items()}
    prices, off = form.numbered("price"), form.numbered("off")
    quantities = form.numbered("quantity")
    tasks = {
        task.id: desk.TaskChange(prices[str(task.id)], quantities.get(str(task.id), ""), str(task.id) in off)
        for task in read_job(house, job).tasks
        if str(task.id) in prices
    }
    more = PricedTask(form.more_item, form.more_label, form.more_price, form.more_quantity)
    facts = (form.thing, form.note, form.date, form.time, form.place, form.staff)
    wanted = desk.JobChange(*facts, tasks, (more,), form.seen, own_typed(form))
    try:
        desk.change(house, with_lender(house, actor, form), job, wanted, form.key)
    except Refused as refusal:
        ask_to_lend(refusal)
        return _change_page(request, house, actor, job, {**form.typed(), **extra}, wrong(house, refusal))
    return RedirectResponse(urls.job(job), 303)


@router.post("/agree")
def agree(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.Agree]) -> Response:
    """They say yes to what it comes to now."""
    try:
        desk.agree(house, actor, job, form.how, form.key)
    except Refused as refusal:
        return job_page(request, house, actor, job, wrong(house, refusal).keeping({"how": form.how}))
    return RedirectResponse(urls.job(job), 303)


@router.post("/cancel")
def cancel(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.Agree]) -> Response:
    """It is called off."""
    try:
        desk.cancel(house, actor, job, form.reason, form.key)
    except Refused as refusal:
        return job_page(request, house, actor, job, wrong(house, refusal).keeping({"reason": form.reason}))
    return RedirectResponse(urls.job(job), 303)


@router.post("/remind")
def remind(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.Agree]) -> Response:
    """Tell them again that it is ready."""
    try:
        desk.remind(house, actor, job, form.key)
    except Refused as refusal:
        return job_page(request, house, actor, job, wrong(house, refusal))
    outbox.send_waiting(house)
    tell(request, house.say(w.REMINDED_OF_JOB))
    return RedirectResponse(urls.job(job), 303)
