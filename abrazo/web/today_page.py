"""Today's page: one of four lenses, the queue or an opened booking beside it; used by every router that ends on it."""

from __future__ import annotations

from pydantic import BaseModel
from starlette.requests import Request
from starlette.responses import Response

from abrazo.desk.context import Actor, House
from abrazo.desk.doors.courses import others_for
from abrazo.desk.doors.views.booking_deposits import deposit_sheet
from abrazo.desk.doors.views.bookings import along_with, services, visit_among
from abrazo.desk.doors.views.hires import hires_out
from abrazo.desk.history import of_booking
from abrazo.desk.overview.clock import clock_notices
from abrazo.desk.overview.first_steps import first_steps
from abrazo.desk.overview.person import household_open
from abrazo.desk.overview.queue import FIRST
from abrazo.desk.overview.today import today
from abrazo.desk.permissions import Right, has
from abrazo.desk.sign_in import many_wrong
from abrazo.web.day_plan import day_plan
from abrazo.web.notices import Notice, said
from abrazo.web.pages import page
from abrazo.web.supervisor_override import supervisors


class Look(BaseModel):
    """What of today is looked at, as its address has it: a lens, a date, a booking, the whole queue, all starts."""

    lens: str = ""
    day: str = ""
    booking: int = 0
    everything: str = ""
    starts: str = ""


def today_page(request: Request, house: House, actor: Actor, look: Look, notice: Notice | None = None) -> Response:
    """Today, with a booking opened beside it when one is chosen; with a notice when something was refused."""
    visit = visit_among(house, look.booking) if look.booking else None
    day = look.day or (visit.booking.starts_at[:10] if visit else "")
    most = 0 if visit else None if look.everything == "yes" else FIRST
    shown = today(house, actor, look.lens, day, most)
    others, jobs = household_open(house, visit.booking.person, visit.booking.id) if visit else ([], [])
    return page(
        request,
        house,
        actor,
        "room/today.html",
        hires_out=hires_out(house),
        today=shown,
        steps=first_steps(house) if not shown.queue and not visit else [],
        plan=day_plan(shown.day),
        visit=visit,
        asked=bool(look.lens) and not visit,
        all_starts=look.starts == "all",
        others=others,
        along=along_with(house, visit, others) if visit else None,
        ready=jobs,
        booking_others=others_for(house, visit.booking) if visit and visit.booking.course else [],
        booking_deposit=deposit_sheet(house, visit.booking) if visit else None,
        visit_history=of_booking(house, visit.booking.id) if visit else [],
        lenders=supervisors(house) if visit else [],
        people=house.staff(),
        services=services(house) if visit or shown.lens == "bookings" else [],
        wrong_pins=many_wrong(house) if has(actor.staff, Right.SEE_REPORTS) and shown.lens != "bookings" else [],
        clock=[said(house, one) for one in clock_notices(house)],
        day_is_open=house.open_day() is not None,
        notice=notice,
    )
