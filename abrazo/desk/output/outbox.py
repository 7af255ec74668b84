"""Printing and messages: write what is to go out, commit, then send it. Opening the drawer."""

from __future__ import annotations

from collections.abc import Collection
from contextlib import suppress
from datetime import timedelta
from enum import Enum

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import JobPaper, ReceiptBy, RefundState
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.views.jobs import claim_paper, job_paper
from abrazo.desk.output.carriers import drawer_of, mail_of, network_printer, printer_of, texts_of
from abrazo.desk.output.views.pool_list import pool_list
from abrazo.desk.output.views.receipt import about, paper_date, receipt_of
from abrazo.desk.output.views.refund_slip import refund_slip
from abrazo.desk.output.views.report import day_report
from abrazo.desk.permissions import Right, need
from abrazo.desk.setup.equipment import at_till
from abrazo.desk.setup.logo import logo_of
from abrazo.desk.tickets.layaways import kept_on
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till.tip_pool import read_division
from abrazo.devices.ports import DeviceFault, Unreachable
from abrazo.formats.day_report import day_report_text
from abrazo.formats.email_address import read_email
from abrazo.formats.escpos import paper_bytes
from abrazo.formats.job_text import claim_text, tag_text
from abrazo.formats.phone import read_phone, shown
from abrazo.formats.pool_list import pool_list_text
from abrazo.formats.receipt_files import receipt_mail
from abrazo.formats.receipt_text import gift_text, receipt_text, short_text, slip_text
from abrazo.formats.refund_slip import refund_slip_text
from abrazo.formats.set_aside_tag import SetAsideTag, set_aside_text
from abrazo.store import corrections, hires, outbox, people, tenders
from abrazo.store import ticket as ticket_store
from abrazo.store.db import atomic
from abrazo.store.outbox import Sheet
from abrazo.words import phrases as w

MAIL, MESSAGE = "e-mail", outbox.MESSAGE
OF_RECEIPTS = (
    "receipt ",
    "bill ",
    "gift ",
    "slip house ",
    "slip guest ",
)  # what sheets are about that bear the house's picture


class Reach(Enum):
    """What a sender reaches: stand-ins; these and printers on the network, as pages do; all that is not here."""

    HERE = 0
    NEAR = 1
    FAR = 2


def _print(act: Act, title: str, body: str, about_it: str, barcode: str = "") -> None:
    """A sheet for the printer of the till at which it is asked for."""
    outbox.add(act.connection, on_paper(act, title, body, about_it, barcode))


def on_paper(act: Act, title: str, body: str, about_it: str, barcode: str = "") -> outbox.NewSheet:
    """What is to be printed at the till of an act."""
    at = at_till(act.actor.till.id)
    return outbox.NewSheet(act.at, outbox.PRINTER, title, body, about_it, barcode, printer=at)


def print_bills(house: House, actor: Actor, ticket_id: int, key: str) -> None:
    """A bill for each who still owes, in one go."""
    whole = load_ticket(house, ticket_id)
    for payer in whole.payers:
        if whole.payer_bill(payer.id).account.due:
            with suppress(Refused):  # out of paper: it prints when paper is in
                print_receipt(house, actor, ticket_id, payer.id, f"{key}-{payer.id}")


def print_receipt(house: House, actor: Actor, ticket_id: int, payer_id: int, key: str, *, gift: bool = False) -> None:
    """Print a payer's receipt; a second one is by right and says which copy it is. Refused without, or without printer.

    A gift receipt has no prices and is no copy; a bill that is still to be paid is printed as often as it is asked for.
    """
    with acting(house, actor, "printed", key, f"ticket {ticket_id}") as act:
        if act.done is None:
            whole = load_ticket(house, ticket_id)
            receipt = receipt_of(house, whole, payer_id)
            by = need(actor, Right.REPRINT) if receipt.copy > 1 and not receipt.due and not gift else None
            known_by = {"ticket": receipt.ticket, "payer": receipt.payer, "copy": receipt.copy}
            title = house.say(w.GIFT_RECEIPT_TITLE if gift else w.RECEIPT_COPY_TITLE, **known_by)
            at = act.at
            about_it = f"gift {about(whole, payer_id)}" if gift else about(whole, payer_id)
            body = gift_text(receipt) if gift else receipt_text(receipt)
            _print(act, title, body, about_it, receipt.code)
            if receipt.due:
                ticket_store.set_billed(act.connection, ticket_id, at)
            if gift:
                act.record(Kind.GIFT_RECEIPT_PRINTED, ticket_id, payer=Personal(receipt.payer))
            else:
                act.record(Kind.RECEIPT_PRINTED, ticket_id, payer=Personal(receipt.payer), copy=receipt.copy, lender=by)
    if send_waiting(house, actor.till.id):
        raise Refused(Code.RECEIPT_WAITS)


def print_refund(house: House, actor: Actor, ticket_id: int, refund_id: int, key: str) -> None:
    """Print the slip of a refund that is done. Refused when the printer is out; NotFound for no such refund."""
    with acting(house, actor, "printed", key, f"refund {refund_id}") as act:
        if act.done is None:
            whole, refund = load_ticket(house, ticket_id), corrections.read_refund(act.connection, refund_id)
            if refund is None or refund.ticket != ticket_id or refund.state != RefundState.DONE:
                raise NotFound(f"no refund {refund_id} of ticket {ticket_id} that is done")
            title = house.say(w.REFUND_SLIP_TITLE, ticket=whole.head.number)
            body = refund_slip_text(refund_slip(house, whole, refund))
            code = f"T{whole.head.number}"
            _print(act, title, body, f"refund {refund_id}", code)
            act.record(Kind.REFUND_SLIP_PRINTED, ticket_id, refund=refund_id)
    if send_waiting(house, actor.till.id):
        raise Refused(Code.RECEIPT_WAITS)


def print_pool(house: House, actor: Actor, division_id: int, key: str) -> None:
    """Print the list of a pool of tips that was divided, to be signed. Refused when the printer is out."""
    with acting(house, actor, "printed", key, f"pool {division_id}", Right.PAY_TIPS) as act:
        if act.done is None:
            told = pool_list(house, *read_division(house, division_id))
            title = house.say(w.POOL_LIST_TITLE, date=told.date)
            _print(act, title, pool_list_text(told), f"pool {division_id}")
            act.record(Kind.POOL_LIST_PRINTED, division=division_id, lender=act.by)
    if send_waiting(house, actor.till.id):
        raise Refused(Code.RECEIPT_WAITS)


COPIES = {  # of a bill to be signed: what each says, and its title
    "house": (w.COPY_FOR_HOUSE, w.BILL_FOR_HOUSE),
    "guest": (w.COPY_FOR_GUEST, w.BILL_FOR_GUEST),
}


def print_slips(house: House, actor: Actor, ticket_id: int, payer_id: int, key: str) -> bool:
    """A payer's bill to be signed, with a line for the tip: a copy for the house and one for the guest.

    False when they wait for paper.
    """
    with acting(house, actor, "printed", key, f"ticket {ticket_id}") as act:
        if act.done is None:
            whole, at = load_ticket(house, ticket_id), act.at
            receipt = receipt_of(house, whole, payer_id)
            for copy_for, (says, kind) in COPIES.items():
                title = house.say(kind, ticket=receipt.ticket, payer=receipt.payer)
                body = slip_text(receipt, says)
                known = f"slip {copy_for} {about(whole, payer_id)}"
                _print(act, title, body, known, receipt.code)
            ticket_store.set_billed(act.connection, ticket_id, at)
            act.record(Kind.BILL_TO_SIGN_PRINTED, ticket_id, payer=Personal(receipt.payer))
    return not send_waiting(house, actor.till.id)


def mail_receipt(house: House, actor: Actor, ticket_id: int, payer_id: int, to: str, key: str) -> None:
    """Send a payer's receipt by e-mail; it waits while the line is down. Refused beside the address that is none."""
    if not to.strip():
        raise Refused(Code.NO_EMAIL, "email")
    to = read_email(to)
    with acting(house, actor, "sent", key, f"ticket {ticket_id}") as act:
        if act.done is None:
            whole, at = load_ticket(house, ticket_id), act.at
            receipt = receipt_of(house, whole, payer_id)
            message = receipt_mail(receipt, receipt_text(receipt), to, house.clock.now(), logo_of(house))
            title = house.say(w.RECEIPT_TITLE, ticket=receipt.ticket, payer=receipt.payer)
            outbox.add(
                act.connection,
                outbox.NewSheet(at, MAIL, title, message, f"mail {about(whole, payer_id)}", recipient=to),
            )
            act.record(Kind.RECEIPT_SENT, ticket_id, payer=Personal(receipt.payer), to=Personal(to))
    send_waiting(house)


def text_receipt(house: House, actor: Actor, ticket_id: int, payer_id: int, to: str, key: str) -> None:
    """Send a payer's receipt in short as a text message. Refused beside the number that is none."""
    if not to.strip():
        raise Refused(Code.NO_PHONE, "phone")
    number = read_phone(to, house.settings.region, "phone")
    with acting(house, actor, "sent", key, f"ticket {ticket_id}") as act:
        if act.done is None:
            whole, at = load_ticket(house, ticket_id), act.at
            receipt = receipt_of(house, whole, payer_id)
            title = house.say(w.RECEIPT_TITLE, ticket=receipt.ticket, payer=receipt.payer)
            body, kind = short_text(receipt), f"text {about(whole, payer_id)}"
            outbox.add(act.connection, outbox.NewSheet(at, outbox.MESSAGE, title, body, kind, recipient=number))
            shown_to = Personal(shown(number, house.settings.region))
            act.record(Kind.RECEIPT_SENT, ticket_id, payer=Personal(receipt.payer), to=shown_to)
    send_waiting(house)


def print_last(house: House, actor: Actor, key: str) -> tuple[int, int]:
    """Print the receipt of the payment taken last at this till; its ticket and payer. Refused when there is none."""
    payments = [p for p in tenders.payments_on(house.connection, house.day().id) if p.till == actor.till.id]
    for payment in reversed(payments):
        standing = payment.taken_back_at is None and payment.deposit is None
        if standing and any(payer.id == payment.payer for payer in load_ticket(house, payment.ticket).payers):
            print_receipt(house, actor, payment.ticket, payment.payer, key)
            return payment.ticket, payment.payer
    raise Refused(Code.NOTHING_TO_REPRINT, till=actor.till.name)


def prefer(house: House, person: int, way: str) -> None:
    """How somebody likes their receipts, from now on."""
    likes = chosen(ReceiptBy, way, Code.NO_PREFERENCE, "prefer")
    with atomic(house.connection) as connection:
        people.set_receipt_by(connection, person, likes)


def by_preference(house: House, actor: Actor, ticket_id: int, key: str, instead: str = "") -> str:
    """Give the receipts of a ticket the way its person likes, or `instead`; nothing when they are asked each time.

    Gives the address to which they go by e-mail, empty for none.
    """
    whole = load_ticket(house, ticket_id)
    person = house.person(whole.head.person) if whole.head.person else None
    if person is None:
        return ""
    mailed, way = "", instead or people.receipt_by(house.connection, person.id)
    for payer in whole.payers:
        on_paper = way in (ReceiptBy.PRINT, ReceiptBy.BOTH)
        if way in (ReceiptBy.EMAIL, ReceiptBy.BOTH) and person.email:
            try:
                mail_receipt(house, actor, ticket_id, payer.id, person.email, f"{key}-mail-{payer.id}")
                mailed = person.email
            except Refused:  # an address from before it was read so strictly: the ticket is closed all the same
                on_paper = True
        if way == ReceiptBy.TEXT and person.phone:
            text_receipt(house, actor, ticket_id, payer.id, person.phone, f"{key}-text-{payer.id}")
        if on_paper:
            with suppress(Refused):  # out of paper: it prints when paper is in
                print_receipt(house, actor, ticket_id, payer.id, f"{key}-print-{payer.id}")
    return mailed


def print_report(house: House, actor: Actor, day: int, key: str) -> None:
    """Print a day's report."""
    with acting(house, actor, "printed", key, f"day {day}", Right.SEE_REPORTS) as act:
        if act.done is None:
            body = day_report_text(day_report(house, day))
            title = house.say(w.REPORT_TITLE, day=day)
            _print(act, title, body, f"report {day}")
    if send_waiting(house, actor.till.id):
        raise Refused(Code.REPORT_WAITS)


def print_job(house: House, actor: Actor, job_id: int, what: JobPaper, key: str) -> bool:
    """Print a job's tag or the customer's receipt of it; False when it waits for paper."""
    with acting(house, actor, "printed", key, f"job {job_id}") as act:
        if act.done is None:
            paper = job_paper(house, job_id)
            body = tag_text(paper) if what == JobPaper.TAG else claim_text(claim_paper(house, job_id))
            title = house.say(w.TAG_TITLE if what == JobPaper.TAG else w.CLAIM_TITLE, job=paper.number)
            _print(act, title, body, f"{what} {paper.number}", paper.code)
            act.record(Kind.JOB_PAPER_PRINTED, job=job_id, name=paper.number, paper=what)
    return not send_waiting(house, actor.till.id)


def print_set_aside(house: House, actor: Actor, ticket_id: int, key: str) -> bool:
    """Print the tag of goods that are set aside; False when it waits for paper."""
    kept = kept_on(house, ticket_id)
    if kept is None:
        raise Refused(Code.NOT_SET_ASIDE)
    with acting(house, actor, "printed", key, f"set aside {ticket_id}") as act:
        if act.done is None:
            whole = load_ticket(house, ticket_id)
            who = people.read(act.connection, whole.head.person or 0)
            goods = tuple(f"{line.quantity} {line.label}" for line in whole.standing)
            due, until = house.settings.currency.text(whole.bill.due), paper_date(house, kept.until)
            name = who.name if who else ""
            tag = SetAsideTag(kept.name, name, goods, until, due, house.settings.language)
            title, about_it = house.say(w.TAG_SET_ASIDE, name=kept.name), f"set aside {kept.name}"
            body = set_aside_text(tag)
            _print(act, title, body, about_it, kept.name)
            act.record(Kind.SET_ASIDE_TAG_PRINTED, ticket_id, name=kept.name)
    return not send_waiting(house, actor.till.id)


def open_drawer(house: House, actor: Actor, why: str) -> bool:
    """Let the till's drawer spring open; False when it did not."""
    try:
        drawer_of(house, actor.till.id).open(actor.till.id, why)
    except DeviceFault:
        return False
    return True


ITS_OWN = timedelta(seconds=2)  # in which a page sends what it printed, and says when it could not
DOUBT_AFTER = timedelta(seconds=30)  # after which a sheet that was claimed and not sent may have gone out


def send_waiting(house: House, till: str = "", reach: Reach = Reach.NEAR) -> int:
    """Send what waits, as far as `reach` goes; gives how many sheets still wait at a till's printer, or at any."""
    send_from(house, reach, till)
    left = [one for one in outbox.waiting(house.connection) if one.device == outbox.PRINTER]
    return sum(one.printer in ("", at_till(till)) for one in left) if till else len(left)


def send_from(house: House, reach: Reach, till: str = "", but: Collection[str] = ()) -> set[str]:
    """Send what waits, but not by some carriers; gives those that could not be reached, of each one sheet was tried.

    Each is claimed by one sender before it goes out. One whose sender died, or heard nothing, may have gone out: it is
    shown (`doubtful`) and never sent again by itself.
    """
    silent = set[str]()
    for sheet in outbox.waiting(house.connection):
        carrier = sheet.printer if sheet.device == outbox.PRINTER else sheet.device
        if carrier in silent or carrier in but or not _reaches(house, sheet, reach, till):
            continue
        with atomic(house.connection) as connection:
            mine = outbox.claim(connection, sheet.id, house.stamp())
        if mine and not _send(house, sheet):
            silent.add(carrier)
    return silent


def _reaches(house: House, sheet: Sheet, reach: Reach, till: str) -> bool:
    """Whether a sheet is sent from here. A page waits for its own till's printer and for what it made just now.

    What is left over a thread sends: a printer that is off elsewhere makes nobody wait.
    """
    if sheet.device == outbox.PRINTER:
        if network_printer(house, sheet.printer) is None:
            return reach is not Reach.FAR
        left_over = sheet.at < house.stamp(ITS_OWN)
        if reach is Reach.NEAR:
            return sheet.printer == at_till(till) or not left_over
        return reach is Reach.FAR and left_over
    far = house.settings.mail_server if sheet.device == MAIL else house.settings.text_address
    return bool(far) is (reach is Reach.FAR)


def send_to_owners(house: House) -> int:
    """Put what owners are told into their folders; gives how many files still wait. Twice the same is the same file."""
    for told in hires.waiting(house.connection):
        with suppress(Unreachable):
            house.devices.owners.put(told.owner, told.reference, told.body)
            with atomic(house.connection) as connection:
                hires.mark_sent(connection, told.id, house.stamp())
    return len(hires.waiting(house.connection))


def _as_printed(house: House, sheet: Sheet) -> str:
    """What a sheet says; of one that was printed in practice also that."""
    if not house.settings.practice:
        return sheet.body
    mark = house.say(w.PRACTICE_PAPER)
    return f"{mark}\n\n{sheet.body}\n\n{mark}"


def _send(house: House, sheet: Sheet) -> bool:
    """Whether what carries a sheet could be reached."""
    try:
        if sheet.device == outbox.PRINTER:
            logo = logo_of(house) if sheet.about.startswith(OF_RECEIPTS) else b""
            paper = paper_bytes(_as_printed(house, sheet), sheet.barcode, logo)
            printer_of(house, sheet.printer).put(sheet.title, paper)
        elif sheet.device == MAIL:
            mail_of(house).mail(sheet.id, sheet.body)
        else:
            texts_of(house).send(sheet.id, sheet.recipient, sheet.title, sheet.body)
    except Unreachable as fault:
        with atomic(house.connection) as connection:
            outbox.release(connection, sheet.id, str(fault))
        return False
    except DeviceFault as fault:
        with atomic(house.connection) as connection:
            outbox.mark_fault(connection, sheet.id, str(fault))
    else:
        with atomic(house.connection) as connection:
            outbox.mark_sent(connection, sheet.id, house.stamp())
    return True


def doubtful(house: House) -> list[Sheet]:
    """Papers and messages that may have gone out: somebody has to look."""
    return outbox.doubtful(house.connection, house.stamp(DOUBT_AFTER))


def settle_doubt(house: House, actor: Actor, sheet_id: int, *, again: bool) -> None:
    """Somebody looked: a sheet that may have gone out goes out again, or did go out."""
    sheet = next((one for one in doubtful(house) if one.id == sheet_id), None)
    if sheet is None:
        raise NotFound(f"no doubtful sheet {sheet_id}")
    with acting(house, actor, "outbox") as act:
        if again:
            outbox.release(act.connection, sheet_id, None)
        else:
            outbox.mark_sent(act.connection, sheet_id, act.at)
        kind = Kind.PAPER_SENT_AGAIN if again else Kind.PAPER_WENT_OUT
        act.record(kind, sheet=sheet_id, title=Personal(sheet.title))
    send_waiting(house)
