"""Doing what is to happen after sales: whoever works beside the house does it, as soon as it is due.

Rules here
- each happens once, whatever is killed: papers and hand-overs have a key of their own, a message is written down
  together with its end
- nothing is printed that was printed before; after a ticket that was made void nothing happens, nor what is retired
- what is days late is not done any more: a house that was away, or is a copy of old, does not write to everybody
"""

from __future__ import annotations

from contextlib import suppress
from datetime import timedelta

from abrazo.core.errors import Code, Refused
from abrazo.core.states import AfterSale, AfterSaleOutcome, JobState, TicketState
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import jobs
from abrazo.desk.output import outbox as papers
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.payments.after_sale import afterwards
from abrazo.desk.setup.after_sale import HOUSE, WHO
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.formats.plain_mail import Letter, plain_mail
from abrazo.store import after_sale as kept
from abrazo.store import outbox
from abrazo.store.after_sale import AfterSaleRow, AfterSaleTask
from abrazo.store.db import atomic
from abrazo.store.people import Person
from abrazo.words import phrases as w

TOO_LATE = timedelta(days=3)
DONE, NOT_NEEDED, FAILED = AfterSaleOutcome.DONE, AfterSaleOutcome.NOT_NEEDED, AfterSaleOutcome.FAILED


def do_what_is_due(house: House) -> int:
    """Do all that is due by now, oldest first; gives how much it was."""
    due = kept.due(house.connection, house.stamp())
    for task in due:
        action, head = kept.action(house.connection, task.action), house.head(task.ticket)
        late = house.since(task.due_at) > TOO_LATE.total_seconds()
        if late or action.ended_at or head is None or head.state != TicketState.CLOSED:
            _end(house, task, NOT_NEEDED)
        else:
            _do(house, task, action)
    return len(due)


def give_up(house: House) -> None:
    """What is due first brings down what does it: it failed, so that those after it are done."""
    due = kept.due(house.connection, house.stamp())
    if due:
        _end(house, due[0], FAILED)


def _do(house: House, task: AfterSaleTask, action: AfterSaleRow) -> None:
    if action.does is AfterSale.MESSAGE:
        _message(house, task, action)
        return
    staff, tills = house.staff(), house.tills()
    actor = Actor(staff[task.staff], tills[task.till], by_itself=True)
    if action.does is AfterSale.DRAWER:
        if _end(house, task, DONE):  # said first: a drawer that springs open twice is worse than one that does not
            papers.open_drawer(house, actor, f"ticket {task.ticket}")
        return
    act = _print if action.does is AfterSale.RECEIPT else _hand_over
    try:
        outcome = act(house, actor, task)
    except Refused as refusal:
        if refusal.code is Code.NO_DAY:
            return  # the next day does it
        outcome = FAILED
    _end(house, task, outcome)


def _end(house: House, task: AfterSaleTask, outcome: AfterSaleOutcome) -> bool:
    with atomic(house.connection) as connection:
        return kept.end(connection, task.id, outcome, house.stamp())


def _print(house: House, actor: Actor, task: AfterSaleTask) -> AfterSaleOutcome:
    whole, outcome = load_ticket(house, task.ticket), NOT_NEEDED
    for payer in whole.payers:
        if receipt_of(house, whole, payer.id).copy > 1:
            continue
        outcome = DONE
        try:
            papers.print_receipt(house, actor, task.ticket, payer.id, f"after-{task.id}-{payer.id}")
        except Refused as refusal:
            if refusal.code is not Code.RECEIPT_WAITS:  # that one prints when there is paper
                raise
    return outcome


def print_at_counter(house: House, actor: Actor, ticket: int, key: str) -> None:
    """The receipt of a counter sale that was just paid: it ends with the next one only, and nobody waits for that."""
    wanted = any(one.does is AfterSale.RECEIPT and not one.left_out for one in afterwards(house, ticket))
    for payer in load_ticket(house, ticket).payers if wanted else ():
        with suppress(Refused):  # out of paper: it prints when paper is in
            papers.print_receipt(house, actor, ticket, payer.id, f"{key}-paper-{payer.id}")


def _hand_over(house: House, actor: Actor, task: AfterSaleTask) -> AfterSaleOutcome:
    settled = [one for one in jobs.jobs_of(house, task.ticket) if one.settled_on == task.ticket]
    ready = [one for one in settled if one.state is JobState.READY and any(one.here(each) for each in one.tasks)]
    for job in ready:
        jobs.hand_out(house, actor, job.id, None, "", f"after-{task.id}-{job.id}")
    return DONE if ready else NOT_NEEDED


def _message(house: House, task: AfterSaleTask, action: AfterSaleRow) -> None:
    head = house.head(task.ticket)
    person = house.person(head.person) if head is not None and head.person else None
    with atomic(house.connection) as connection:
        sheet = _sheet(house, task, action, person) if person is not None and person.erased_at is None else None
        if not kept.end(connection, task.id, DONE if sheet else NOT_NEEDED, house.stamp()):
            return
        if sheet is not None:
            outbox.add(connection, sheet)


def _sheet(house: House, task: AfterSaleTask, action: AfterSaleRow, person: Person) -> outbox.NewSheet | None:
    """A message to somebody, as a text where a phone is known, else by e-mail; None when neither is."""
    body = action.words.replace(WHO, person.first_name).replace(HOUSE, house.settings.name)
    about, title = f"after sale {task.id}", house.speaking_to(person).say(w.AFTER_SALE_TITLE, house=house.settings.name)
    if person.phone:
        return outbox.NewSheet(house.stamp(), outbox.MESSAGE, title, body, about, recipient=person.phone)
    if not person.email:
        return None
    letter = Letter(title, body, person.email, house.settings.name)
    return outbox.NewSheet(
        house.stamp(), papers.MAIL, title, plain_mail(letter, house.clock.now()), about, recipient=person.email
    )
