"""Today's page: one of four lenses, the queue or an opened booking beside it; used by every router that ends on it."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import Response

from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.bookings import along_with, read_visit, services
from abrazo.desk.overview.person import household_open
from abrazo.desk.overview.today import today
from abrazo.web.day_plan import day_plan
from abrazo.web.notices import Notice
from abrazo.web.pages import page


def today_page(
    request: Request,
    house: House,
    actor: Actor,
    lens: str = "",
    day: str = "",
    booking: int = 0,
    everything: bool = False,
    notice: Notice | None = None,
    typed: dict[str, str] | None = None,
    status: int = 200,
) -> Response:
    """Today, with a booking opened beside it when one is chosen."""
    shown = today(house, actor, lens, day, everything)
    visit = read_visit(house, booking) if booking else None
    others, jobs = household_open(house, visit.booking.person, visit.booking.id) if visit else ([], [])
    return page(
        request,
        house,
        actor,
        "room/today.html",
        status,
        today=shown,
        plan=day_plan(shown.day),
        visit=visit,
        asked=bool(lens) and not visit,
        others=others,
        along=along_with(visit, others) if visit else None,
        ready=jobs,
        people=house.staff(),
        services=services(house),
        notice=notice,
        typed=typed or {},
    )
