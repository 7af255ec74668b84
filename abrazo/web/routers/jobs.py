"""Jobs: drop-off, the job's sheet, ready, settling, handing over."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import timedelta

from fastapi import APIRouter, Request
from starlette.responses import PlainTextResponse, RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.core.states import JobPaper, OwnAbout
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import jobs as desk
from abrazo.desk.doors.job_surcharges import surcharges
from abrazo.desk.doors.jobs import DropOff, PricedTask, jobs_of
from abrazo.desk.doors.views.jobs import presets, tasks_offered
from abrazo.desk.output import outbox
from abrazo.desk.overview.person import known_words, person_hits
from abrazo.desk.payments import closing as ticket_desk
from abrazo.desk.payments import deposits, refunds, tenders
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.people.own_fields import said_of
from abrazo.desk.people.people import add_person, find_people, known, recognised
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_job
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import jobs as forms
from abrazo.web.forms.base import Sent, is_number, own_typed
from abrazo.web.job_page import job_page
from abrazo.web.notices import Notice, said, wrong
from abrazo.web.pages import page, tell
from abrazo.web.supervisor_override import ask_to_lend, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/jobs")
on_tickets = APIRouter(prefix="/tickets")


@router.get("/new")
def drop_off_page(
    request: Request, house: OpenHouse, actor: SignedIn, person: int = 0, ticket: int = 0, q: str = ""
) -> Response:
    """A job is taken in: whose, what, when. A whole phone number chooses whose it is."""
    if not person and any(map(str.isdigit, q)) and (known := recognised(house, "", q)):
        person = known.id
    return _drop_off(request, house, actor, _DropOff(person, ticket, {"q": q, **_as_before(house, ticket)}))


def _as_before(house: House, ticket: int) -> dict[str, str]:
    """Of one more thing on a visit: when, where and whose to do the one before it is."""
    left = [job for job in jobs_of(house, ticket) if job.dropped_on == ticket] if ticket else []
    return {
        name: value
        for job in left[-1:]
        for name, value in (
            *(("date", job.due_at[:10]), ("time", job.due_at[11:16])),
            *(("place", job.place), ("staff", job.staff or "")),
        )
    }


@dataclass(frozen=True, slots=True)
class _DropOff:
    """A drop-off as far as it is filled in: whose, from which ticket, what was typed, and the ticked tasks."""

    person: int
    ticket: int
    typed: dict[str, str]
    chosen: dict[str, tuple[str, str]] = field(default_factory=dict)
    surcharges: tuple[str, ...] = ()


def _drop_off(request: Request, house: House, actor: Actor, filled: _DropOff, notice: Notice | None = None) -> Response:
    person, ticket, typed = filled.person, filled.ticket, filled.typed
    q = typed.get("q", "").strip()
    hits = person_hits(house, find_people(house, q, 6)) if q and not person else []
    notes, places = presets(house)
    today = house.now().date()
    open_days = desk.open_days(house)
    coming = (today + timedelta(days=n) for n in range(14))
    days = [day for day in coming if not open_days or day.isoweekday() in open_days]
    return page(
        request,
        house,
        actor,
        "jobs/new.html",
        person=known(house, person) if person else None,
        ticket=ticket,
        typed=typed,
        hits=hits,
        q=q,
        tasks=tasks_offered(house),
        chosen=filled.chosen,
        surcharges=surcharges(house),
        added=filled.surcharges,
        estimate=_estimate(house, filled),
        own=said_of(house, OwnAbout.JOB),
        notes=notes,
        places=places,
        days=days[:7],
        promised=desk.promised_on(house, filled.chosen),
        people=[p for p in house.workers().values() if p.takes_jobs],
        notice=notice,
        on_ticket=load_ticket(house, ticket) if ticket else None,
    )


@router.post("/new")
def drop_off(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.DropOff]) -> Response:
    """Take the job in; its tag is printed."""
    typed = {**form.typed(), **own_typed(form)}
    chosen = form.chosen()
    person, ticket, key = form.person, form.ticket, form.key
    typed["notes"] = "|".join(form.notes)
    try:
        lent = with_lender(house, actor, form)
        if not person and not typed["name"].strip():
            raise Refused(Code.NO_JOB_CUSTOMER, "name")
        dropped = DropOff(
            person=person,
            thing=typed["thing"],
            tasks=tuple((item, quantity, pieces) for item, (quantity, pieces) in chosen.items()),
            date=form.other_date or typed["date"],
            time=typed["time"],
            note="; ".join(part for part in [*form.notes, typed["note"].strip()] if part),
            place=typed["place"],
            staff=typed["staff"],
            deposit=read_money(house, typed["deposit"], "deposit") if typed["deposit"].strip() else 0,
            sure=form.sure,
            more=(PricedTask(form.more_item, form.more_label, form.more_price, form.more_quantity),),
            surcharges=form.surcharges,
            own=own_typed(form),
        )
        known = None if person else recognised(house, typed["name"], typed["phone"])
        if not person:  # nobody is added for a drop-off that is refused
            desk.check(house, lent, dropped)
            new = {"name": typed["name"], "phone": typed["phone"], "another": form.another}
            person = known.id if known else add_person(house, actor, new, f"{key}-person")
            dropped = replace(dropped, person=person)
        job, visit = desk.drop_off(house, lent, dropped, ticket or None, key)
    except Refused as refusal:
        ask_to_lend(refusal)
        notice = wrong(house, refusal)
        filled = _DropOff(person, ticket, typed, chosen, tuple(form.surcharges))
        return _drop_off(request, house, actor, filled, notice)
    outbox.print_job(house, actor, job, JobPaper.TAG, f"{key}-tag")
    if known:
        tell(request, known_words(house, known.id))
    if form.then == "another":
        tell(request, house.say(w.TAKEN_IN, job=desk.read_job(house, job).name))
        return RedirectResponse(urls.drop_off(person=person, ticket=visit), 303)
    if desk.deposit_due(house, visit):  # of this or of a thing before it
        return RedirectResponse(urls.ticket(visit, view="pay"), 303)
    return RedirectResponse(urls.job(job, done="taken in"), 303)


def _estimate(house: House, filled: _DropOff) -> int:
    """What is ticked comes to; 0 while a measure cannot be read."""
    try:
        return desk.estimate_for(house, [(item, *typed) for item, typed in filled.chosen.items()], filled.surcharges)
    except Refused:
        return 0


@router.post("/estimate")
def estimate(house: OpenHouse, actor: SignedIn, form: Sent[forms.Tasks]) -> Response:
    """What the ticked tasks come to, in words, while the form is being filled in."""
    tasks = [(item, quantity, pieces) for item, (quantity, pieces) in form.chosen().items()]
    try:
        words = house.say(w.ESTIMATE, amount=desk.estimate_for(house, tasks, form.surcharges))
    except Refused as refusal:
        words = said(house, refusal)
    return PlainTextResponse(words)


@on_tickets.post("/{ticket}/jobs")
def add(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Add]) -> Response:
    """A ready job comes along on an open ticket."""
    desk.add_to_ticket(house, actor, OnTicket(ticket, form.version, form.key), form.job)
    return RedirectResponse(urls.ticket(ticket), 303)


@router.get("/{job}")
def sheet(request: Request, house: OpenHouse, actor: SignedIn, job: int, done: str = "") -> Response:
    """A job, its tasks, money and history."""
    return job_page(request, house, actor, job, done=done)


@router.post("/{job}/state")
def state(house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.State]) -> Response:
    """Where a job stands from now on."""
    wanted = form.state
    desk.mark(house, actor, job, wanted, form.key)
    outbox.send_waiting(house)
    if form.then == "workshop":
        return RedirectResponse(urls.prep("workshop"), 303)
    return RedirectResponse(urls.job(job, done="told" if wanted == "ready" else ""), 303)


@router.post("/{job}/settle")
def settle(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.Settle]) -> Response:
    """Onto a ticket with the deposit taken off; with a machine named, the rest is charged at once."""
    key = form.key
    try:
        ticket = desk.settle(house, actor, [job], key)
        whole_ticket = load_ticket(house, ticket)
        due = whole_ticket.bill.due
        if due and form.machine and len(whole_ticket.payers) == 1:
            payer, version = whole_ticket.payers[0].id, whole_ticket.head.version
            tenders.ask_card(
                house, actor, OnTicket(ticket, version, f"{key}-card"), payer, form.machine, tenders.Sum(due)
            )
    except Refused as refusal:
        return job_page(request, house, actor, job, wrong(house, refusal, "settle"))
    return RedirectResponse(urls.ticket(ticket, view="pay") if due else urls.done(ticket), 303)


@router.post("/{job}/hand-over")
def hand_over(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.HandOver]) -> Response:
    """Some pieces, or all; money outstanding leads to payment. From a paid ticket, the ticket is closed too."""
    key, ticket = form.key, form.ticket
    typed = {**form.typed("how", "note"), **(form.model_extra or {})}
    try:
        pieces = None if form.how == "all" else _pieces(form)
        desk.hand_out(house, actor, job, pieces, form.note, key)
        if ticket:
            ticket_desk.free_table(house, actor, OnTicket(ticket, None, f"{key}-close"))
    except Refused as refusal:
        if refusal.code == Code.JOB_OWED:
            refusal = Refused(Code.JOB_STILL_OWED, "settle")
        return job_page(request, house, actor, job, wrong(house, refusal, otherwise="pieces").keeping(typed))
    return RedirectResponse(urls.job(job, done="handed over"), 303)


def _pieces(form: forms.HandOver) -> dict[int, int]:
    found = {}
    for number, typed in form.numbered("pieces").items():
        plain = typed.strip() or "0"
        if not (plain.isascii() and plain.isdigit() and len(plain) < 4):
            raise Refused(Code.NOT_PIECES, f"pieces-{number}", value=typed)
        if is_number(number):
            found[int(number)] = int(plain)
    return found


@router.post("/{job}/undo")
def undo(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.Undo]) -> Response:
    """A hand-over was a mistake."""
    try:
        desk.undo_hand_over(house, actor, job, form.batch)
    except Refused as refusal:
        return job_page(request, house, actor, job, wrong(house, refusal, "pieces"))
    return RedirectResponse(urls.job(job), 303)


@router.post("/{job}/give-back")
def give_back(request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.GiveBack]) -> Response:
    """What is left of the deposit, from the drawer or to the card that it came from."""
    thing = of_job(desk.read_job(house, job))
    try:
        if form.to == "card":
            refunds.give_back_to_card(house, actor, thing, form.key)
            return RedirectResponse(urls.job(job, done="going back to the card"), 303)
        deposits.give_back(house, actor, thing, form.key)
    except Refused as refusal:
        return job_page(request, house, actor, job, wrong(house, refusal, "settle"))
    outbox.open_drawer(house, actor, "deposit given back")
    ticket = form.ticket
    return RedirectResponse(urls.done(ticket) if ticket else urls.job(job, done="given back"), 303)


@router.post("/{job}/keep-deposit")
def keep_deposit(
    request: Request, house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.KeepDeposit]
) -> Response:
    """What is left of the deposit stays with the house, as its terms say."""
    try:
        deposits.keep(house, with_lender(house, actor, form), of_job(desk.read_job(house, job)), form.reason, form.key)
    except Refused as refusal:
        notice = wrong(house, refusal, "keep").keeping({"reason": form.reason})
        return job_page(request, house, actor, job, notice)
    return RedirectResponse(urls.job(job, done="deposit kept"), 303)


@router.post("/{job}/print")
def print_paper(house: OpenHouse, actor: SignedIn, job: int, form: Sent[forms.PrintPaper]) -> Response:
    """Print a job's tag or receipt."""
    outbox.print_job(house, actor, job, form.what, form.key)
    return RedirectResponse(urls.job(job, done=f"{form.what} printed"), 303)
