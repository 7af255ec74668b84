"""A ticket: its page, and picking, changing and removing lines."""

from __future__ import annotations

from dataclasses import replace

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.desk import history
from abrazo.desk.doors.views.booking_deposits import left_over
from abrazo.desk.doors.views.bookings import likely_next, next_visits, services
from abrazo.desk.doors.views.jobs import jobs_on
from abrazo.desk.output import outbox
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.person import receipt_preference
from abrazo.desk.payments import after_sale, closing
from abrazo.desk.payments.holds import held_for
from abrazo.desk.payments.refunds import charged_deposit
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.payments.views.settlement import balance_words, closed_words, settlement
from abrazo.desk.tickets import customer, guests, holding, line_changes
from abrazo.desk.tickets import ticket_lines as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_job
from abrazo.desk.tickets.naming import payer_name, place_of
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.why import why_page
from abrazo.formats.receipt_text import receipt_text
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.for_whom import asking_for_whom
from abrazo.web.forms import ticket as forms
from abrazo.web.forms.base import Sent, is_number
from abrazo.web.forms.next_visit import AskedVisit
from abrazo.web.forms.view import AskedView, SentView, View
from abrazo.web.pages import exact_money, page, tell
from abrazo.web.supervisor_override import with_lender
from abrazo.web.ticket_page import after_ask, has_ended, ticket_page
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence

router = APIRouter(prefix="/tickets/{ticket}")


def _back(ticket: int, view: View, **changes: object) -> Response:
    return RedirectResponse(urls.ticket(ticket, **view.state(**changes)), 303)


@router.get("")
def show(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, view: AskedView, asked: str = ""
) -> Response:
    """A ticket, or past tickets when it has ended; what was `asked` of a card machine leads on once that has ended."""
    whole = load_ticket(house, ticket)
    if has_ended(whole, asked):
        return RedirectResponse(after_ask(whole, asked), 303)
    open_ticket(house, ticket)
    return ticket_page(request, house, actor, ticket, view)


@router.get("/history")
def journal(request: Request, house: OpenHouse, actor: SignedIn, ticket: int) -> Response:
    """Everything that was done to a ticket."""
    head = load_ticket(house, ticket).head
    entries = history.of_ticket(house, ticket)
    return page(request, house, actor, "ticket/history.html", head=head, entries=entries)


@router.get("/why")
def why(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, line: int = 0, payer: int = 0) -> Response:
    """Why this much: every amount of the ticket unfolded."""
    derived = why_page(house, ticket)
    return page(request, house, actor, "ticket/why.html", w=derived, line=line, payer=payer, exact=exact_money(house))


@router.post("/add")
def add(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Add], view: SentView) -> Response:
    """Put an item on the ticket."""
    picked = Picked(
        view.item,
        view.quantity,
        view.choices,
        view.seats,
        ", ".join((*view.notes, *([view.note] if view.note else []))),
    )
    with asking_for_whom(ticket, view.item):
        desk.add_line(house, actor, OnTicket(ticket, form.version, form.key), picked)
    whole = load_ticket(house, ticket)  # a household's line is open at once, for one touch says for whom it is
    line = whole.standing[-1].id if customer.members(house, whole.head.person) else None
    return _back(ticket, view, item="", quantity="1", note="", notes=(), choices=(), q="", line=line)


@router.post("/again")
def again(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Again], view: SentView) -> Response:
    """A round once more."""
    round_lines = list(form.lines)
    desk.add_again(house, actor, OnTicket(ticket, form.version, form.key), round_lines)
    return _back(ticket, view, line=None)


@router.post("/unlisted")
def unlisted(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Unlisted], view: SentView) -> Response:
    """Something that is not on the list: words, price, kind."""
    price = read_money(house, view.price, "price")
    by = with_lender(house, actor, form)
    desk.add_unlisted(house, by, OnTicket(ticket, form.version, form.key), view.label, price, view.kind)
    return _back(ticket, view, item="", note="", label="", price="", kind="")


@router.post("/swap")
def swap(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Swap], view: SentView) -> Response:
    """Another service or staff member on a line, in place."""
    version, line = form.version, form.line
    item, staff = form.onto or form.item_now, form.by or form.staff_now
    desk.swap_line(house, actor, OnTicket(ticket, version), line, item, staff)
    return _back(ticket, view)


@router.get("/change-line")
def change_page(house: OpenHouse, actor: SignedIn, ticket: int, line: int) -> Response:
    """The item's panel as the line stands."""
    seen = load_ticket(house, ticket)
    one, letters = seen.line(line), {guest.id: guest.letter for guest in seen.guests}
    seats = tuple(letters[guest] for guest, weight in one.shares if weight)
    view = View(item=one.item, changing=line, quantity=one.quantity, note=one.note, seats=seats, served=one.staff)
    return _back(ticket, view, choices=line_changes.chosen_of(house, one))


@router.post("/change")
def change(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Change], view: SentView) -> Response:
    """A line's choices, note, quantity and guests, in place."""
    said = ", ".join((*view.notes, *([form.note] if form.note else [])))
    picked = Picked(view.item, view.quantity, view.choices, view.seats, said, view.served)
    line_changes.change_line(house, actor, OnTicket(ticket, form.version), form.changing, picked)
    return _back(ticket, view, item="", changing=None, quantity="1", note="", notes=(), choices=(), seats=(), served="")


@router.post("/guests")
def change_guests(
    house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.ChangeGuests], view: SentView
) -> Response:
    """One more guest, or one who leaves."""
    version, leaving = form.version, form.leaves
    if leaving:
        guests.guest_leaves(house, actor, OnTicket(ticket, version), leaving)
    else:
        guests.add_guest(house, actor, OnTicket(ticket, version))
    return _back(ticket, view, naming="", seats=())


@router.post("/give")
def give(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Give], view: SentView) -> Response:
    """Whose a line is."""
    whose = form.whose
    desk.give_line(house, actor, OnTicket(ticket, form.version), form.line, whose)
    return _back(ticket, view)


@router.post("/for-member")
def for_member(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.ForMember], view: SentView) -> Response:
    """For which of the household a line is."""
    customer.give_to_member(house, actor, OnTicket(ticket, form.version), form.line, form.member)
    return _back(ticket, view)


@router.post("/parts")
def parts(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Parts], view: SentView) -> Response:
    """A line in any proportion."""
    desk.give_parts(house, actor, OnTicket(ticket, form.version), form.line, form.parts)
    return _back(ticket, view, parts="")


@router.post("/name")
def name(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Name], view: SentView) -> Response:
    """A guest's name."""
    holding.name_guest(house, actor, OnTicket(ticket, form.version), form.guest, form.name)
    return _back(ticket, view, naming="", name="")


@router.post("/bill")
def bill(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Bill], view: SentView) -> Response:
    """The bill was asked for, or was not."""
    holding.ask_bill(house, actor, OnTicket(ticket, form.version), form.asked)
    return _back(ticket, view)


@router.get("/done")
def done(
    request: Request,
    house: OpenHouse,
    actor: SignedIn,
    ticket: int,
    visit: AskedVisit,
) -> Response:
    """Everything is paid: payments with their receipts, what is handed over or given back, the next visit, the end."""
    seen = open_ticket(house, ticket)
    if seen.bill.due:
        return RedirectResponse(urls.ticket(ticket, view="pay"), 303)
    likely, cards = likely_next(house, seen), jobs_on(house, ticket)
    people = dict.fromkeys(p for p in (seen.head.person, *(n.person for n in likely)) if p)
    return page(
        request,
        house,
        actor,
        "ticket/done.html",
        whole=seen,
        place=place_of(house, seen),
        name=seen.head.spot if seen.at_table else place_of(house, seen),
        names={payer.id: sentence(payer_name(house, seen, payer.id)) for payer in seen.payers},
        hold=held_for(house, ticket),
        settled=settlement(house, seen),
        balance=balance_words(house, settlement(house, seen)),
        later=[(card.job.name, card.owed) for card in cards if card.owed and card.job.settled_on != ticket],
        tips=seen.tips,
        rounding=seen.rounding,
        liking=receipt_preference(house, seen.head.person),
        jobs=cards,
        booking_rests=left_over(house, ticket),
        deposit_cards={card.job.id: charged_deposit(house, of_job(card.job)) for card in cards if card.deposit},
        likely=likely,
        coming={person: next_visits(house, person) for person in people},
        services=services(house),
        staff=house.staff(),
        booked=visit.booked,
        afterwards=after_sale.afterwards(house, ticket),
        slip=receipt_text(receipt_of(house, seen, seen.payers[0].id)) if len(seen.payers) == 1 else "",
        notice=replace(visit.notice, status=200) if visit.notice else None,  # the ticket is paid all the same
    )


@router.post("/afterwards")
def afterwards(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Afterwards]) -> Response:
    """What happens by itself when the ticket ends is left out, or happens after all."""
    after_sale.leave_out(house, actor, ticket, form.action, form.key, out=form.out)
    then, _, payer = form.then.partition(" ")
    if then == "receipt" and is_number(payer):
        return RedirectResponse(urls.receipt(ticket, int(payer)), 303)
    return RedirectResponse(urls.counter_mode() if then == "counter" else urls.done(ticket), 303)


@router.post("/free")
def free(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Free]) -> Response:
    """End the ticket and free its table."""
    by_mail = form.receipt == "email"
    if by_mail:  # in the place of paper
        after_sale.leave_out_papers(house, actor, ticket, form.key)
    closing.free_table(house, actor, OnTicket(ticket, None, form.key))
    whole = load_ticket(house, ticket)
    mailed = outbox.by_preference(house, actor, ticket, form.key, "email" if by_mail else "")
    if whole.taken:
        said = [closed_words(house, whole), house.say(w.RECEIPT_MAILED, to=mailed) if mailed else ""]
        tell(request, " ".join(said).strip())
    return RedirectResponse(urls.today(), 303)
