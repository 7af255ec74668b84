"""The ticket page: one template, four panes; used by every router whose acts end on a ticket."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import HTMLResponse

from abrazo.core.deposits import over_hold
from abrazo.core.money import total
from abrazo.core.states import RequestKind, RequestState, Source
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.phone_orders import order_of
from abrazo.desk.doors.views.bookings import services
from abrazo.desk.doors.views.courses import dated_items, dates_of
from abrazo.desk.doors.views.jobs import jobs_on
from abrazo.desk.doors.views.tabs import rounds
from abrazo.desk.overview.finder import kinds, usual_kind
from abrazo.desk.overview.person import facts_with, here_too, household_open, known_words
from abrazo.desk.payments.accounts import open_invoices
from abrazo.desk.payments.holds import held_for
from abrazo.desk.payments.stored_value import points_on
from abrazo.desk.payments.views import pay_pad
from abrazo.desk.people.people import known
from abrazo.desk.tickets import series
from abrazo.desk.tickets.adjustments import for_line
from abrazo.desk.tickets.benefits import applying
from abrazo.desk.tickets.customer import everybody_of, members
from abrazo.desk.tickets.holding import name_to_hold
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.prep import to_send, unsent
from abrazo.desk.tickets.price_lists import to_ask
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.tickets.views import catalogue
from abrazo.desk.tickets.views.ticket_status import minutes_since, state_of
from abrazo.web import urls
from abrazo.web.forms.view import View
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import Undo, page, tell
from abrazo.web.ticket_layout import strip_of

SHOWN: dict[str, tuple[str, ...]] = {"pick": ("pick", "lines"), "lines": ("pick", "lines"), "share": ("lines", "share")}
SHOWN["pay"] = ("lines", "share", "pay")


def next_payer(whole: TicketSnapshot, after: int | None = None) -> int | None:
    """The payer who stands ready: the chosen one while something is due, else the next who owes."""
    owing = [payer.id for payer in whole.payers if whole.payer_bill(payer.id).account.due > 0]
    idle = [payer for payer in owing if all(ask.payer != payer for ask in whole.open_requests)]
    if after in owing:
        return after
    return next(iter(idle or owing), None)


def ticket_page(
    request: Request, house: House, actor: Actor, ticket_id: int, view: View, notice: Notice | None = None
) -> HTMLResponse:
    """Render a ticket with the panes of `view`; what was typed stays."""
    status = notice.status if notice else 200
    whole = load_ticket(house, ticket_id)
    payer = view.payer if any(p.id == view.payer for p in whole.payers) else None
    if view.view == "pay":
        payer = payer or next_payer(whole) or whole.payers[0].id
    strip = strip_of(house, whole, payer if view.view == "share" else None)
    pad = None
    if view.view == "pay" and payer is not None:
        typed = pay_pad.Typed(view.amount, view.handed, view.way, view.reference, view.extra)
        pad = pay_pad.pay_pad(house, actor, whole, payer, typed)
        if pad.fault is not None and notice is None:
            notice = wrong(house, pad.fault)
    source, pick = whole.head.source, None
    if view.view in ("pick", "lines"):
        pick = catalogue.pick_page(
            house, actor, catalogue.Sought(view.category, view.q, view.item, source, whole.head.price_list)
        )
    dates = dates_of(house, pick.item) if pick else []
    bill, hold = whole.bill, held_for(house, ticket_id)
    person = whole.head.person
    asks_owed = person and view.view in ("pick", "lines") and not view.alone
    owed = (
        [one for one in open_invoices(house, known(house, person)) if not one.pending] if person and asks_owed else []
    )
    new = unsent(house, whole)
    work = [ticket_id, place_of(house, whole)]
    if request.session.get("work") != work:  # else a page that comes late would bring back a session that was ended
        request.session["work"] = work
    return page(
        request,
        house,
        actor,
        "ticket/page.html",
        status,
        whole=whole,
        view=view,
        shown=SHOWN[view.view],
        strip=strip,
        payer=payer,
        chosen=next((card for card in strip.cards if card.id == payer), None),
        pad=pad,
        pick=pick,
        dated_items=dated_items(house) if pick else set(),
        place_dates=dates,
        place_people=everybody_of(house, known(house, person)) if dates and person else [],
        notice=notice,
        said=next((p for p in whole.payments if p.id == view.said), None),
        place=place_of(house, whole),
        state=state_of(house, whole),
        minutes=minutes_since(house, whole.head.opened_at),
        people=house.staff(),
        total=bill.asked,
        tips=bill.tips,
        next_payer=next_payer(whole),
        charge_ways=pay_pad.charge_ways(whole),
        removed_names=house.staff(),
        asks=whole.open_requests,
        hold=hold,
        over_hold=over_hold(bill.due, hold.amount) if hold else 0,
        order=order_of(house, ticket_id),
        benefits=[*applying(house, whole), *series.applying(house, whole)],
        earns=points_on(house, whole),
        facts=facts_with(house, whole.head.person) if view.view in ("pick", "lines") else None,
        beside=here_too(house, whole.head.person, ticket_id)
        if view.view in ("pick", "lines") and not view.alone
        else [],
        place_of_ticket=lambda other: place_of(house, other),
        owed=owed,
        owed_in_all=total(invoice.left for invoice in owed),
        members=members(house, person) if view.line else [],
        line_presets=for_line(house, whole, view.line) if view.line else [],
        unsent=new,
        sends=to_send(new),
        name_to_hold=name_to_hold(house, whole),
        repriced=to_ask(house, whole),
        usual_hold=house.settings.currency.text(house.settings.tab_hold),
        rounds=rounds(house, whole) if whole.head.source == Source.TAB and view.view == "lines" else [],
        jobs=jobs_on(house, ticket_id),
        offers=household_open(house, whole.head.person)
        if view.view in ("pick", "lines") and not view.alone
        else ([], []),
        services=services(house),
        kinds=kinds(house) if view.item == "unlisted" else [],
        likely_kind=view.kind or likely_kind(house, pick) if view.item == "unlisted" else "",
    )


def likely_kind(house: House, pick: catalogue.PickPage | None) -> str:
    """What an unlisted item counts as unless said otherwise: as all that is offered beside it, else as the last one."""
    beside = {item.report_group for item in pick.items} if pick else set()
    return beside.pop() if len(beside) == 1 else usual_kind(house)


def say_recognised(request: Request, house: House, ticket: int) -> None:
    """Say whose a ticket became by the name or number that was typed, and how it is taken back."""
    whole = load_ticket(house, ticket)
    if whole.head.person is None:
        return
    tell(
        request,
        known_words(house, whole.head.person),
        Undo(urls.whose(ticket), (("version", whole.head.version), ("person", 0))),
    )


def ends_by_itself(house: House, whole: TicketSnapshot) -> bool:
    """Whether a paid ticket can be closed without another look: no held card, no job, no booking hangs on it."""
    plain = whole.head.source in (Source.TABLE, Source.COUNTER, Source.TAB, Source.PHONE)
    return plain and held_for(house, whole.head.id) is None and not jobs_on(house, whole.head.id)


def after_payment(whole: TicketSnapshot) -> str:
    """Where to go when a payer has paid: the next one, or the end."""
    following = next_payer(whole)
    if following is None:
        return urls.done(whole.head.id)
    return urls.ticket(whole.head.id, view="pay", payer=following)


def has_ended(whole: TicketSnapshot, asked: str) -> bool:
    """Whether a machine has said how an ask of the ticket ended, by its reference; False of one that is not there."""
    return any(ask.reference == asked and not ask.open for ask in whole.asks)


def after_ask(whole: TicketSnapshot, asked: str) -> str:
    """Where to go when a machine has said how an ask of the ticket ended: a charge, a hold, a release."""
    ask = next(ask for ask in whole.asks if ask.reference == asked)
    ticket, following = whole.head.id, next_payer(whole)
    if ask.state != RequestState.APPROVED or ask.kind == RequestKind.REFUND:
        return urls.ticket(ticket, view="pay", payer=ask.payer)
    if ask.kind == RequestKind.HOLD:
        return urls.ticket(ticket)
    if following is None:
        return urls.done(ticket)
    if ask.kind == RequestKind.RELEASE:
        return urls.ticket(ticket, view="pay", payer=ask.payer)
    made = next((p.id for p in whole.taken if p.reference == ask.reference), None)
    return urls.ticket(ticket, view="pay", payer=following, said=made)
