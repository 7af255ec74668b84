"""A job's sheet; used by every router that ends on it."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import Response

from abrazo.core.states import OwnAbout
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.jobs import read_job
from abrazo.desk.doors.views.jobs import claim_paper, job_paper, job_sheet
from abrazo.desk.history import of_job as told_of_job
from abrazo.desk.payments.refunds import charged_deposit
from abrazo.desk.people.own_fields import said_of
from abrazo.desk.tickets.deposits import of_job
from abrazo.formats.barcode import code128
from abrazo.formats.job_text import claim_text, tag_text
from abrazo.web.notices import Notice
from abrazo.web.pages import page
from abrazo.web.supervisor_override import supervisors


def job_page(
    request: Request, house: House, actor: Actor, job: int, notice: Notice | None = None, done: str = ""
) -> Response:
    """A job, its tasks, money and history; with a notice when something was refused."""
    paper = job_paper(house, job)
    return page(
        request,
        house,
        actor,
        "jobs/sheet.html",
        sheet=job_sheet(house, job),
        paper=paper,
        tag=tag_text(paper),
        claim=claim_text(claim_paper(house, job)),
        bars=code128(paper.code),
        deposit_card=charged_deposit(house, of_job(read_job(house, job))),
        people=house.staff(),
        lenders=supervisors(house),
        job_history=told_of_job(house, job),
        own=said_of(house, OwnAbout.JOB, job),
        notice=notice,
        done=done,
    )
