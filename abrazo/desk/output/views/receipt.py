"""A payer's receipt, from the ticket as it stands."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from abrazo.core.ledger import Role
from abrazo.core.states import CorrectionKind, RowKind, Signature, Tender
from abrazo.core.tax import in_parts
from abrazo.desk.context import House
from abrazo.desk.doors.jobs import jobs_of
from abrazo.desk.doors.views.hires import on_ticket as hires_on
from abrazo.desk.doors.views.jobs import job_paper
from abrazo.desk.payments.advances import tax_in
from abrazo.desk.payments.views.settlement import settlement
from abrazo.desk.people.people import known
from abrazo.desk.setup.habits import habits
from abrazo.desk.tickets import series
from abrazo.desk.tickets.layaways import kept_on
from abrazo.desk.tickets.naming import payer_name, place_of, route_words
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot
from abrazo.formats.job_text import job_rows
from abrazo.formats.receipt_text import WIDTH, Receipt, row, wrap
from abrazo.store import bookings, corrections, outbox
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w
from abrazo.words.speaking import date_words, sentence


def about(whole: TicketSnapshot, payer: int) -> str:
    """What sheets of paper about a payer are known by: an unpaid bill is no receipt, and no copy of one."""
    kind = "bill" if whole.payer_bill(payer).account.due else "receipt"
    return f"{kind} {whole.head.number} {payer}"


def _head(house: House) -> str:
    """What stands under the house's name."""
    s = house.settings
    number = house.say(w.INVOICE_TAX_NUMBER, number=s.tax_number) if s.tax_number_on_receipts and s.tax_number else ""
    return "\n".join(filter(None, (s.address, s.receipt_head, number)))


def receipt_of(house: House, whole: TicketSnapshot, payer_id: int) -> Receipt:
    """The receipt of one payer, in the language of the ticket's person where it is known."""
    house = house.speaking_to(house.person(whole.head.person) if whole.head.person else None)
    text, account = house.settings.currency.text, whole.payer_bill(payer_id).account
    place, payer = place_of(house, whole), payer_name(house, whole, payer_id)
    taken = [payment for payment in whole.taken if payment.payer == payer_id]
    at, day = (taken[-1].at, taken[-1].day) if taken else (house.stamp(), whole.head.day)
    at_till = house.tills()[taken[-1].till if taken else whole.head.till].name
    return Receipt(
        house=house.settings.name,
        address=_head(house),
        ticket=whole.head.number,
        place=place,
        payer=payer,
        whose=place if payer in (place, house.say(w.CUSTOMER)) else f"{place}, {payer}",
        currency=house.settings.currency.code,
        business_date=paper_date(house, house.date_of(day)),
        at=house.hour(at),
        server=house.staff()[whole.head.staff].name,
        till=at_till,
        cashier=_cashier(house, whole, taken),
        language=house.reader.language,
        rows=(*_rows(house, whole, payer_id), *_removed(house, whole)),
        total=text(account.total),
        tip=text(account.tip) if account.tip else None,
        rounding=text(account.rounding) if account.rounding else None,
        paid=tuple(pair for payment in taken for pair in _paid(house, payment, text)),
        due=text(account.due) if account.due and not whole.head.voided_at else None,
        taxes=_taxes(house, whole, payer_id),
        message=house.settings.message,
        copy=outbox.copies(house.connection, about(whole, payer_id)) + 1,
        blocks=(
            *_on_account(house, whole, payer_id),
            *_series_left(house, whole),
            *_hired(house, whole),
            *_set_aside(house, whole),
            *_jobs_left(house, whole),
            *_next_visits(house, whole),
        ),
        things=_things(whole, payer_id),
        void=_void(house, whole, payer_id),
        code=_code(house, whole),
    )


def _on_account(house: House, whole: TicketSnapshot, payer_id: int) -> tuple[tuple[str, ...], ...]:
    """What stands on an account as it is printed, where something was put on it or paid on it."""
    settled = settlement(house, whole, payer_id)
    _, sentence = settled.balance
    if not sentence or (whole.payer_bill(payer_id).account.due and not settled.on_account):
        return ()
    return (tuple(wrap(house.say(sentence, at=house.stamp(), **settled.facts), WIDTH)),)


def _series_left(house: House, whole: TicketSnapshot) -> tuple[tuple[str, ...], ...]:
    """What is left of the series that were sold or used, and until when."""
    lines = list[str]()
    for one in series.of_ticket(house, whole):
        left = {"left": len(series.free_of(one)), "of": one.uses}
        lines += wrap(house.say(w.SERIES_LEFT, name=one.name, **left, until=series.last_day(house, one)), WIDTH)
    return (tuple(lines),) if lines else ()


def _hired(house: House, whole: TicketSnapshot) -> tuple[tuple[str, ...], ...]:
    """What was hired, until when, and which card secures it."""
    lines = list[str]()
    for one, card in hires_on(house, whole.head.id):
        facts = {"hire": one.name, "unit": one.unit, "brand": card.brand, "last_four": card.last_four}
        lines += wrap(house.say(w.HIRE_ON_PAPER, due=one.due_at, **facts), WIDTH)
    return (tuple(lines),) if lines else ()


def _set_aside(house: House, whole: TicketSnapshot) -> tuple[tuple[str, ...], ...]:
    """That the goods are set aside, until when, and what is still to pay."""
    if whole.head.set_aside is None:
        return ()
    kept = kept_on(house, whole.head.id)
    name, due = kept.name if kept else "", house.settings.currency.text(whole.bill.due)
    return (tuple(wrap(house.say(w.SET_ASIDE_ON_PAPER, name=name, until=whole.head.set_aside, due=due), WIDTH)),)


def _code(house: House, whole: TicketSnapshot) -> str:
    """What the receipt's bars say: the one job or hire of it, so that it finds that; else the ticket."""
    found = [one.name for one, _ in hires_on(house, whole.head.id)]
    return jobs_code(house, whole) or (found[0] if len(found) == 1 else f"T{whole.head.number}")


def _void(house: House, whole: TicketSnapshot, payer_id: int) -> tuple[tuple[str, str], ...]:
    """Of a ticket that was made void: who did it, when, why, and what went back to this payer."""
    if not whole.head.voided_at:
        return ()
    text, found = house.settings.currency.text, list[tuple[str, str]]()
    made = [one for one in corrections.of_ticket(house.connection, whole.head.id) if one.kind == CorrectionKind.VOID]
    for one in made[-1:]:
        who = house.staff()[one.staff].name
        found.append((house.say(w.VOID_BY, name=who, moment=one.at), ""))
        found.append((house.say(w.VOID_WHY, reason=one.reason), ""))
    back = [payment for payment in whole.payments if payment.payer == payer_id and payment.taken_back_at]
    found += [(house.say(w.WENT_BACK, route=route_words(house, one)), text(one.given)) for one in back]
    return tuple(found)


def paper_date(house: House, iso: str) -> str:
    """A date as papers have it, always with its year: Sat 13 Jun 2026."""
    return date_words(replace(house.reader, year=None), iso)


def _jobs_left(house: House, whole: TicketSnapshot) -> list[tuple[str, ...]]:
    """Jobs that were left on this visit: thing, tasks, due, estimate, deposit, rest."""
    return [
        tuple(job_rows(job_paper(house, job.id)))
        for job in jobs_of(house, whole.head.id)
        if job.dropped_on == whole.head.id
    ]


def jobs_code(house: House, whole: TicketSnapshot) -> str:
    """The code of the one job of a visit, so that its receipt finds the job; else empty."""
    found = jobs_of(house, whole.head.id)
    return found[0].code if len(found) == 1 else ""


def _next_visits(house: House, whole: TicketSnapshot) -> list[tuple[str, ...]]:
    """The coming bookings of everybody on the ticket."""
    booked = [booking.person for booking in bookings.on_ticket(house.connection, whole.head.id)]
    people = dict.fromkeys(person for person in (whole.head.person, *booked) if person is not None)
    staff = house.staff()
    lines: list[str] = []
    for person in people:
        for one in bookings.of_person(house.connection, person, house.wall_now(), 3):
            when = f"{paper_date(house, one.starts_at)}, {house.hour(one.starts_at)}"
            lines += row(one.name if len(people) > 1 else house.say(w.NEXT_VISIT), when)
            service = house.item(one.service)
            with_whom = {"service": service.name if service else one.service, "name": staff[one.staff].name}
            lines += wrap(f"  {house.say(w.SERVICE_WITH, **with_whom)}", WIDTH)
    return [tuple(lines)] if lines else []


def _rows(house: House, whole: TicketSnapshot, payer_id: int) -> tuple[tuple[str, str], ...]:
    lines = {str(line.id): line for line in whole.standing}
    charges = {str(charge.id): charge for charge in whole.charges}
    nets = {line.id: line.net for line in whole.bill.lines}
    taxes = {tax.id: tax.label or tax.id for tax in whole.ticket.taxes}
    text, found = whole.ticket.currency.text, []
    for cell in whole.payer_bill(payer_id).rows:
        if cell.kind == RowKind.LINE:
            line = lines[cell.ref]
            whole_line = house.say(w.PART_OF_LINE, whole=text(nets[cell.ref]))
            part = [] if cell.amount == nets[cell.ref] else [whole_line]
            less = [one.reason for one in whole.taken_off(line.id)]
            found.append((", ".join([_thing(line), *_for_whom(house, line), *part, *less]), text(cell.amount)))
        else:
            label = charges[cell.ref].label if cell.kind == RowKind.CHARGE else taxes[cell.ref]
            found.append((label, text(cell.amount)))
    return tuple(found)


def _removed(house: House, whole: TicketSnapshot) -> list[tuple[str, str]]:
    """Lines that were removed, where the house shows them."""
    if not habits(house).show_removed:
        return []
    gone = [line for line in whole.lines if line.removed_at]
    return [
        (house.say(w.REMOVED_LINE, at=line.removed_at, number=line.quantity, label=line.label), "") for line in gone
    ]


def _thing(line: LineRow) -> str:
    """How many of what, with its choices."""
    count = f"{line.quantity} {line.unit} " if line.unit else "" if line.quantity == "1" else f"{line.quantity} x "
    choices = ", ".join(label for label, _ in line.choices)
    return f"{count}{line.label}" + (f" ({choices})" if choices else "")


def _for_whom(house: House, line: LineRow) -> list[str]:
    return [house.say(w.FOR_MEMBER, name=known(house, line.member).name)] if line.member is not None else []


def _things(whole: TicketSnapshot, payer_id: int) -> tuple[str, ...]:
    """What a payer's bill is for, without prices and reasons: what a gift receipt says."""
    refs = [row.ref for row in whole.payer_bill(payer_id).rows if row.kind == RowKind.LINE]
    lines = {str(line.id): line for line in whole.standing}
    return tuple(_thing(lines[ref]) for ref in refs)


def _cashier(house: House, whole: TicketSnapshot, taken: list[PaymentRow]) -> str:
    """Who took the last payment, when that was not who served."""
    return house.staff()[taken[-1].staff].name if taken and taken[-1].staff != whole.head.staff else ""


def _paid(house: House, payment: PaymentRow, text: Callable[[int], str]) -> list[tuple[str, str]]:
    if payment.deposit:
        return [(sentence(payment.route), text(payment.given))]
    if payment.recorded or payment.tender == Tender.ACCOUNT:
        return [(sentence(route_words(house, payment)), text(payment.given))]
    if payment.machine:
        facts = {"brand": payment.brand, "last_four": payment.last_four, "machine": payment.machine}
        how_taken = w.COLLECTED if payment.tender == Tender.BANK_ACCOUNT else w.CHARGED
        charged = house.say(how_taken, reference=payment.reference, **facts)
        signed = {
            Signature.PAPER: w.SIGNED_ON_PAPER,
            Signature.SCREEN: w.SIGNED_ON_SCREEN,
            Signature.WANTED: w.TO_BE_SIGNED,
        }
        how = [house.say(signed[payment.signature])] if payment.signature in signed else []
        return [(", ".join([charged, *how]), text(payment.given))]
    if payment.change:
        handed = (house.say(w.CASH_HANDED), text(payment.handed))
        return [handed, (house.say(w.CHANGE), text(payment.change))]
    name = house.say(w.CASH) if payment.tender == Tender.CASH else sentence(payment.route)
    return [(name, text(payment.given))]


def _taxes(house: House, whole: TicketSnapshot, payer_id: int) -> tuple[tuple[str, str], ...]:
    labels = {tax.id: tax.label or tax.id for tax in whole.ticket.taxes}
    memo = whole.payer_bill(payer_id).taxes
    found = [(house.say(w.TAX_CONTAINED, tax=labels[tax]), amount) for tax, amount in memo]
    added = {cell.ref: cell.amount for cell in whole.payer_bill(payer_id).rows if cell.kind == RowKind.TAX}
    for tax_of in whole.ticket.taxes:
        parts = in_parts(tax_of, added.get(tax_of.id, 0))
        found += [(house.say(w.TAX_PART, part=label), amount) for label, amount in parts if label and amount]
    if len(whole.payers) == 1:  # a deposit is paid by one
        deposits = [line.id for line in whole.standing if line.role is Role.DEPOSIT]
        found += [(house.say(w.TAX_IN_DEPOSIT, tax=labels[one.tax]), one.amount) for one in tax_in(house, deposits)]
    return tuple((words, whole.ticket.currency.text(amount)) for words, amount in found)
