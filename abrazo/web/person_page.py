"""Somebody's sheet, with what was typed in one of its forms."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import Response

from abrazo.core.states import OwnAbout
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.bookings import services
from abrazo.desk.doors.views.hires import hires_out
from abrazo.desk.output import reminders
from abrazo.desk.overview.merging import alike, merged
from abrazo.desk.overview.person import person_hits, person_sheet
from abrazo.desk.payments import account_terms, accounts
from abrazo.desk.payments.views.stored_value import of_person
from abrazo.desk.people.own_fields import said_of
from abrazo.desk.people.people import find_people
from abrazo.desk.permissions import Right, has
from abrazo.desk.tickets import memberships
from abrazo.web.notices import Notice
from abrazo.web.pages import page


def person_page(
    request: Request,
    house: House,
    actor: Actor,
    person: int,
    change: bool,
    notice: Notice | None = None,
) -> Response:
    """Somebody's sheet, or its facts to be changed."""
    shown, member_q = person_sheet(house, person), request.query_params.get("q", "")[:80].strip()
    owes = accounts.owed_by(house, shown.person)
    companies = [one for one in accounts.accounts_for(house, person) if one.id != person]
    return page(
        request,
        house,
        actor,
        "people/sheet.html",
        sheet=shown,
        change=change,
        notice=notice,
        services=services(house),
        people=house.staff(),
        own=said_of(house, OwnAbout.PERSON, person),
        owes=owes,
        paying=accounts.paying(house, shown.person) if owes or shown.person.may_owe else None,
        invoices=accounts.open_invoices(house, shown.person),
        kinds=memberships.kinds(house),
        memberships=[
            (one, memberships.rests(house, one), memberships.renewing(house, one))
            for one in memberships.of_person(house, person)
        ],
        today=house.now().date().isoformat(),
        stored=of_person(house, person),
        hires_out=hires_out(house),
        members=account_terms.members(house, shown.person) if shown.person.company else [],
        companies=companies,
        reminder=reminders.due_for(house, shown.person),
        may_set_up=has(actor.staff, Right.SET_UP),
        hits=person_hits(house, find_people(house, member_q, 6)) if member_q else [],
        member_q=member_q,
        merged=merged(house, person) if change else [],
        same=alike(house, shown.person) if change else [],
    )
