"""Printing and messages: write what is to go out, commit, then send it. Opening the drawer."""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.desk.house import Actor, House
from abrazo.desk.look.jobs import job_paper
from abrazo.desk.look.receipt import about, receipt_of
from abrazo.desk.look.report import day_report
from abrazo.desk.whole import read_whole
from abrazo.devices.base import DeviceFault, Drawer, Post, Printer
from abrazo.formats.day_report import day_report_text
from abrazo.formats.job_text import claim_text, tag_text
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import journal, outbox
from abrazo.store.db import atomic

PRINTER = "receipt printer"


def print_receipt(house: House, actor: Actor, ticket_id: int, payer_id: int, key: str) -> None:
    """Print a payer's receipt; a second one says which copy it is. Refused when the printer could not be reached."""
    with atomic(house.connection) as connection:
        if journal.read_act(connection, key) is None:
            whole = read_whole(house, ticket_id)
            receipt = receipt_of(house, whole, payer_id)
            title = f"Receipt {receipt.ticket}, {receipt.payer}, copy {receipt.copy}"
            at = house.stamp()
            about_it = about(whole, payer_id)
            outbox.add(connection, at, PRINTER, title, receipt_text(receipt), about_it, receipt.code)
            till, staff = actor.till.id, actor.staff.id
            entry = journal.Entry(0, at, house.day().id, till, staff, ticket_id, None, "printed", title)
            journal.add(connection, entry)
            journal.add_act(connection, key, "printed", at, "")
    if send_waiting(house):
        raise Refused("paper", "The receipt waits: the printer is out of paper. It prints when paper is in.")


def print_report(house: House, day: int, key: str) -> None:
    """Print a day's report."""
    with atomic(house.connection) as connection:
        if journal.read_act(connection, key) is None:
            body = day_report_text(day_report(house, day))
            at = house.stamp()
            outbox.add(connection, at, PRINTER, f"Day report {day}", body, f"report {day}")
            journal.add_act(connection, key, "printed", at, "")
    if send_waiting(house):
        raise Refused("paper", "The report waits: the printer is out of paper. It prints when paper is in.")


def print_job(house: House, actor: Actor, job_id: int, what: str, key: str) -> bool:
    """Print a job's tag or the customer's receipt of it; False when it waits for paper."""
    with atomic(house.connection) as connection:
        if journal.read_act(connection, key) is None:
            paper, at = job_paper(house, job_id), house.stamp()
            body = tag_text(paper) if what == "tag" else claim_text(paper)
            title = f"{what.capitalize()} of {paper.number}"
            outbox.add(connection, at, PRINTER, title, body, f"{what} {paper.number}", paper.code)
            till, staff, day = actor.till.id, actor.staff.id, house.day().id
            journal.add(connection, journal.Entry(0, at, day, till, staff, None, None, "printed", title))
            journal.add_act(connection, key, "printed", at, "")
    return not send_waiting(house)


def open_drawer(house: House, actor: Actor, why: str) -> bool:
    """Let the till's drawer spring open; False when it did not."""
    drawer: Drawer = house.devices.drawers
    try:
        drawer.open(actor.till.id, why)
    except DeviceFault:
        return False
    return True


def send_waiting(house: House) -> int:
    """Send what waits to the printer and to people; gives how many sheets still wait for the printer."""
    printer: Printer = house.devices.printer
    post: Post = house.devices.post
    for sheet in outbox.waiting(house.connection):
        try:
            if sheet.device == PRINTER:
                printer.put(sheet.title, sheet.body, sheet.barcode)
            else:
                post.send(sheet.recipient, sheet.title, sheet.body)
        except DeviceFault as fault:
            with atomic(house.connection) as connection:
                outbox.mark_fault(connection, sheet.id, str(fault))
        else:
            with atomic(house.connection) as connection:
                outbox.mark_sent(connection, sheet.id, house.stamp())
    return sum(sheet.device == PRINTER for sheet in outbox.waiting(house.connection))
