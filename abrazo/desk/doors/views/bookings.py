"""The day's bookings by staff member, the walk-in queue, and a booking's sheet.

Rules here
- what is to pay for a booking is what its ticket will ask: with the tax that is added, less series, benefits, deposit
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from abrazo.core.bookings import Span
from abrazo.core.errors import Refused
from abrazo.core.jobs import owed_on_ticket, still_owed
from abrazo.core.moments import read_day, wall_text
from abrazo.core.money import rest_of, total, totals
from abrazo.core.states import BookingState, Source, VisitStanding
from abrazo.core.tax import with_added_tax
from abrazo.desk.context import House
from abrazo.desk.doors.bookings import read_booking
from abrazo.desk.doors.free_times import gaps_on, is_free, next_free
from abrazo.desk.tickets.benefits import memberships_of, saved
from abrazo.desk.tickets.series import covered, usable_by
from abrazo.desk.tickets.snapshot import TicketSnapshot, lines_come_to, load_ticket, load_tickets
from abrazo.store import bookings, catalogue, courses
from abrazo.store.bookings import Booking, WalkIn
from abrazo.store.catalogue import Item
from abrazo.store.courses import Course
from abrazo.store.staff import Staff
from abrazo.words import phrases as w

NOTHING_OWED = {VisitStanding.PAID, VisitStanding.ABSENT, VisitStanding.CANCELLED}
EARLIEST, LATEST = 9, 18  # hours that always show
LOOKS_BACK = 60  # days


Taxed = tuple[tuple[str | None, int], ...]


@dataclass(frozen=True, slots=True)
class Visit:
    """A booking with what it comes to, benefits taken off, and where it stands. Minor units; `price` None: has none.

    `price` is without the tax that is `added`; `taxed` are its pieces, as (tax, what that is on).
    """

    booking: Booking
    service: Item
    addons: tuple[Item, ...]
    price: int | None
    state: VisitStanding
    owed: int
    minutes: int  # since it ended; 0 before
    less: int = 0  # what benefits take off
    covered: int = 0  # by series
    taxed: Taxed = ()
    added: int = 0

    @property
    def moves(self) -> bool:
        """Whether it can still be moved to another time."""
        return self.state in (VisitStanding.BOOKED, VisitStanding.HERE, VisitStanding.NOW)

    @property
    def waits(self) -> bool:
        """Whether it has ended and nobody has begun to settle it."""
        return self.state == VisitStanding.ENDED


@dataclass(frozen=True, slots=True)
class CourseOnDay:
    """A course that takes place, with what its places are."""

    course: Course
    service: Item

    @property
    def span(self) -> Span:
        """From when to when; wall time."""
        return datetime.fromisoformat(self.course.starts_at), datetime.fromisoformat(self.course.ends_at)


@dataclass(frozen=True, slots=True)
class BookingsDay:
    """A day's bookings; columns are staff members in the order of the house. Hours on the clock."""

    day: date
    columns: list[tuple[Staff, list[Visit]]]
    first_hour: int
    last_hour: int
    now: datetime | None
    queue: list[WalkIn]
    number: int
    owed: int
    gaps: dict[str, list[Span]]  # of those who take bookings, by staff id: what can still be booked
    courses: list[CourseOnDay]

    @property
    def before(self) -> str:
        """The date before, as ISO."""
        return (self.day - timedelta(days=1)).isoformat()

    @property
    def after(self) -> str:
        """The date after, as ISO."""
        return (self.day + timedelta(days=1)).isoformat()


def visit_of(house: House, booking: Booking) -> Visit:
    """A booking as it stands now."""
    service = house.item(booking.service)
    assert service is not None
    addons = tuple(item for name in booking.addons if (item := house.item(name)))
    taxed, off, by_series = Taxed(), list[int](), list[int]()
    if booking.price is not None:
        had = [(service, booking.price), *((item, item.price) for item in addons)] * booking.party
        by_series = covered(house, booking.person, had) if booking.ticket is None else [0] * len(had)
        had = [(item, each - less) for (item, each), less in zip(had, by_series, strict=True)]
        off = saved(house, booking.person, had)
        taxed = tuple((item.tax, each - less) for (item, each), less in zip(had, off, strict=True))
    price = None if booking.price is None else total(each for _, each in taxed)
    now, ends, comes_to = house.now(), datetime.fromisoformat(booking.ends_at), _with_tax(house, taxed)
    state = _state(house, booking, now)
    owed = 0 if state in NOTHING_OWED else still_owed(comes_to, booking.deposit)
    if state == VisitStanding.ON_TICKET:
        whole = load_ticket(house, booking.ticket or 0)
        had_there = lines_come_to(whole, (one for one in whole.standing if one.booking == booking.id and one.is_sale))
        owed = owed_on_ticket(whole.bill.due, had_there, 0)
    minutes = max(0, int((now - ends).total_seconds() // 60))
    added = rest_of(comes_to, price or 0)
    return Visit(booking, service, addons, price, state, owed, minutes, total(off), total(by_series), taxed, added)


def _with_tax(house: House, taxed: Taxed) -> int:
    return with_added_tax(taxed, house.taxes(), house.settings.tax_mode)


def _state(house: House, booking: Booking, now: datetime) -> VisitStanding:
    if booking.ticket is not None and booking.state != BookingState.CANCELLED:
        return VisitStanding.PAID if booking.paid else VisitStanding.ON_TICKET
    if booking.state in (BookingState.ABSENT, BookingState.CANCELLED):
        return VisitStanding.ABSENT if booking.state == BookingState.ABSENT else VisitStanding.CANCELLED
    if booking.ends_at <= wall_text(now):
        return VisitStanding.ENDED
    if booking.starts_at <= wall_text(now):
        return VisitStanding.NOW
    return VisitStanding(booking.state)


def along_with(house: House, visit: Visit, others: list[Visit]) -> tuple[Visit, int] | None:
    """The first of the same household that could be settled along, and what is to pay for both; None without one."""
    first = next((one for one in others if one.waits and one.price is not None), None)
    if first is None or visit.price is None:
        return None
    held = total((visit.booking.deposit, first.booking.deposit))
    return first, still_owed(_with_tax(house, visit.taxed + first.taxed), held)


def visits_of(house: House, several: list[Booking]) -> list[Visit]:
    """Bookings as they stand now."""
    if not several:
        return []
    house.items([id for one in several for id in (one.service, *one.addons)])  # read at once, then taken one by one
    load_tickets(house, [one.ticket for one in several if one.ticket is not None and not one.paid])
    people = [one.person for one in several if one.person is not None]
    memberships_of(house, people)
    usable_by(house, people)
    house.people(people)
    return [visit_of(house, one) for one in several]


def visits_on(house: House, day: date) -> list[Visit]:
    """All bookings of a date, earliest first."""
    return house.once(("visits", day), lambda: visits_of(house, booked_on(house, day)))


def booked_on(house: House, day: date) -> list[Booking]:
    """The same as they are kept: for pages that show a few of them as `visits_of`."""
    start, end = day.isoformat(), (day + timedelta(days=1)).isoformat()
    return house.once(("booked", day), lambda: bookings.between(house.connection, start, end))


def free_or_busy(house: House) -> dict[str, str]:
    """Of everybody who takes bookings: until when they are busy or free, in words, by staff id."""
    now, today, found = house.wall_now(), booked_on(house, house.now().date()), dict[str, str]()
    for staff in (one.id for one in house.workers().values() if one.takes_bookings):
        came = [one for one in today if one.state != BookingState.ABSENT]
        theirs = [one for one in came if one.staff == staff and one.ends_at > now]
        busy = [one.ends_at for one in theirs if one.starts_at <= now]
        ahead = [one.starts_at for one in theirs if one.starts_at > now]
        words = w.BUSY_UNTIL if busy else w.FREE_UNTIL if ahead else w.FREE_ALL_DAY
        found[staff] = house.say(words, at=max(busy) if busy else min(ahead, default=now))
    return found


def left_unsettled(house: House, today: date) -> list[Visit]:
    """Bookings of earlier days that were neither paid for nor missed, earliest first."""
    since = today - timedelta(days=LOOKS_BACK)
    return visits_of(house, bookings.unsettled(house.connection, since.isoformat(), today.isoformat()))


def bookings_day(house: House, day: str = "") -> BookingsDay:
    """The Bookings lens of a date; today when none is given or it is no date."""
    today = house.now().date()
    try:
        chosen = read_day(day, "day") if day else today
    except Refused:
        chosen = today
    visits, people, given = visits_on(house, chosen), house.staff(), courses_on(house, chosen)
    spans = [(item.staff, item.starts_at, item.ends_at) for item in (visit.booking for visit in visits)]
    spans += [(one.course.staff, one.course.starts_at, one.course.ends_at) for one in given]
    taking = {staff for staff, _, _ in spans} | _instructors(house)
    columns = [
        (person, [v for v in visits if v.booking.staff == person.id])
        for person in people.values()
        if person.id in taking
    ]
    starts = [int(begins[11:13]) for _, begins, _ in spans]
    ends = [int(ends[11:13]) + (ends[14:16] > "00") for _, _, ends in spans]
    return BookingsDay(
        day=chosen,
        columns=columns,
        first_hour=min([EARLIEST, *starts]),
        last_hour=min(24, max([LATEST, *ends])),
        now=house.now() if chosen == today else None,
        queue=walk_ins(house),
        number=len(visits),
        owed=_owed_in_all(house, visits),
        gaps={staff: _gaps(house, staff, chosen, visits, given) for staff in _instructors(house)},
        courses=given,
    )


def _owed_in_all(house: House, visits: list[Visit]) -> int:
    """What is to pay for all of them: for those on one ticket at most what it has due."""
    there = totals((str(one.booking.ticket), one.owed) for one in visits if one.state == VisitStanding.ON_TICKET)
    due = (owed_on_ticket(load_ticket(house, int(id)).bill.due, owed, 0) for id, owed in there.items())
    return total((*due, *(one.owed for one in visits if one.state != VisitStanding.ON_TICKET)))


def _gaps(house: House, staff: str, day: date, visits: list[Visit], given: list[CourseOnDay]) -> list[Span]:
    theirs = (v.booking for v in visits if v.booking.staff == staff and v.booking.state != BookingState.ABSENT)
    taken = [(datetime.fromisoformat(one.starts_at), datetime.fromisoformat(one.ends_at)) for one in theirs]
    return gaps_on(house, staff, day, taken + [one.span for one in given if one.course.staff == staff])


def courses_on(house: House, day: date) -> list[CourseOnDay]:
    """The courses of a date that take place, earliest first."""
    start, end = day.isoformat(), (day + timedelta(days=1)).isoformat()
    found = house.once(("courses", day), lambda: courses.between(house.connection, start, end))
    return [on_day(house, one) for one in found if not one.cancelled_at]


def on_day(house: House, course: Course) -> CourseOnDay:
    """A course with what its places are."""
    service = house.item(course.item)
    assert service is not None
    return CourseOnDay(course, service)


def walk_ins(house: House) -> list[WalkIn]:
    """Who waits without a booking."""
    return house.once("walk-ins", lambda: bookings.waiting(house.connection))


def _instructors(house: House) -> set[str]:
    """Who takes bookings: their title says so."""
    return {person.id for person in house.staff().values() if person.takes_bookings}


@dataclass(frozen=True, slots=True)
class BookingSheet:
    """One booking, with who of the household could be settled along with it."""

    visit: Visit
    staff: Staff
    others: list[Visit]
    jobs: list[tuple[int, str, str, int]]  # id, name, thing, minor units owed


def next_visits(house: House, person: int) -> list[Visit]:
    """Somebody's bookings still to come."""
    return visits_of(house, bookings.of_person(house.connection, person, house.wall_now()))


@dataclass(frozen=True, slots=True)
class NextVisit:
    """What the next booking is likely to be: the same again, a week on, at the first time that is free."""

    person: int
    name: str
    service: str
    staff: str
    date: str
    time: str


def likely_next(house: House, whole: TicketSnapshot) -> list[NextVisit]:
    """For everybody whose booking or walk-in stands on a ticket: the same service a week later.

    A walk-in who is nobody known is person 0: who they are is asked when they book.
    """
    found = []
    for booking in bookings.on_ticket(house.connection, whole.head.id):
        if booking.person is None:
            continue
        starts = datetime.fromisoformat(booking.starts_at) + timedelta(days=7)
        line = next((ln for ln in whole.standing if ln.booking == booking.id), None)
        service, staff = (line.item, line.staff) if line else (booking.service, booking.staff)
        found.append(_free(house, NextVisit(booking.person, booking.name, service, staff, f"{starts:%Y-%m-%d}",
                                            f"{starts:%H:%M}")))  # fmt: skip
    if not found and whole.head.source == Source.WALK_IN:
        services = {item.id for item in catalogue.list_services(house.connection)}
        line = next((ln for ln in whole.standing if ln.item in services), None)
        starts = house.now() + timedelta(days=7)
        if line:
            found.append(_free(house, NextVisit(whole.head.person or 0, whole.head.name or "", line.item, line.staff,
                                                f"{starts:%Y-%m-%d}", f"{starts:%H}:00")))  # fmt: skip
    return found


def _free(house: House, wanted: NextVisit) -> NextVisit:
    """The same visit at the first time from then on at which the staff member is free."""
    service = house.item(wanted.service)
    minutes = (service.minutes if service else None) or 60
    starts = datetime.fromisoformat(f"{wanted.date}T{wanted.time}")
    if is_free(house, wanted.staff, (starts, starts + timedelta(minutes=minutes))):
        return wanted
    free = next_free(house, wanted.staff, minutes, starts) or starts
    return replace(wanted, date=f"{free:%Y-%m-%d}", time=f"{free:%H:%M}")


def services(house: House) -> list[Item]:
    """What can be booked."""
    return catalogue.list_services(house.connection)


def all_visits(house: House) -> list[Booking]:
    """Every booking, for the calendar file."""
    return bookings.all_bookings(house.connection)


def visit_among(house: House, booking_id: int) -> Visit:
    """A booking as it stands, by id; today's are read together, as pages that show the day read them anyway."""
    found = next((one for one in visits_on(house, house.now().date()) if one.booking.id == booking_id), None)
    return found or read_visit(house, booking_id)


def read_visit(house: House, booking_id: int) -> Visit:
    """A booking as it stands, by id."""
    return visit_of(house, read_booking(house, booking_id))
