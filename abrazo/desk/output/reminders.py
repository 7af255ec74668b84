"""Reminders of invoices, in the steps that the house has decided, by e-mail in the language of whose they are."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.accounts import reminder_due
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import seconds_between
from abrazo.core.money import total
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.outbox import MAIL, send_waiting
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.payments.accounts import Invoice, open_invoices
from abrazo.desk.people.people import known
from abrazo.formats.plain_mail import Letter, plain_mail
from abrazo.store import accounts, outbox
from abrazo.store.people import Person
from abrazo.words import phrases as w

DAY = 24 * 3600


@dataclass(frozen=True, slots=True)
class Reminder:
    """The invoices of which somebody is reminded now, each with its step; `amount` of all in minor units."""

    invoices: list[tuple[Invoice, int]]
    amount: int
    step: int  # the highest


def steps(house: House) -> list[int]:
    """Days after an invoice is due at which it is reminded of."""
    return [int(days) for days in house.settings.reminder_days.split()]


def due_for(house: House, person: Person) -> Reminder | None:
    """What somebody is to be reminded of today; None when there is nothing."""
    late = [one for one in open_invoices(house, person) if one.late and not one.pending]
    sent, now = accounts.reminded(house.connection, [one.payment for one in late]) if late else {}, house.stamp()
    found = list[tuple[Invoice, int]]()
    for one in late:
        days = int(seconds_between(one.due, now) // DAY)
        step = reminder_due(days, steps(house), sent.get(one.payment, 0))
        if step is not None:
            found.append((one, step))
    if not found:
        return None
    return Reminder(found, total(one.left for one, _ in found), max(step for _, step in found))


def remind(house: House, actor: Actor, person_id: int, key: str) -> None:
    """Send a reminder of all invoices of which one is due; it waits while the line is down."""
    with acting(house, actor, "sent", key, f"reminder {person_id}") as act:
        if act.done is None:
            person = known(house, person_id)
            reminder = due_for(house, person)
            if reminder is None:
                raise Refused(Code.NOTHING_TO_REMIND, "remind", name=person.name)
            if not person.email:
                raise Refused(Code.REMIND_WHERE, "remind", name=person.name)
            theirs = house.speaking_to(person)
            title = theirs.say(w.REMINDER_TITLE, house=house.settings.name, step=reminder.step)
            letter = Letter(title, _body(theirs, person, reminder), person.email, house.settings.name)
            message = plain_mail(letter, house.clock.now())
            outbox.add(
                act.connection,
                outbox.NewSheet(act.at, MAIL, title, message, f"reminder {person_id}", recipient=person.email),
            )
            for invoice, step in reminder.invoices:
                accounts.add_reminder(act.connection, invoice.payment, step, act.at, actor.staff.id)
            name, to = Personal(person.name), Personal(person.email)
            act.record(Kind.REMINDED, customer=person_id, name=name, to=to, step=reminder.step, amount=reminder.amount)
            act.answer = str(person_id)
    send_waiting(house)


def _body(house: House, person: Person, reminder: Reminder) -> str:
    text = house.settings.currency.text
    rows = [
        house.say(
            w.REMINDER_ROW, number=one.number, day=paper_date(house, one.at[:10]), amount=text(one.left), step=step
        )
        for one, step in reminder.invoices
    ]
    first = w.REMINDER_FIRST if reminder.step == 1 else w.REMINDER_AGAIN
    owed = {"name": person.first_name, "amount": f"{text(reminder.amount)} {house.settings.currency.code}"}
    return "\n".join([house.say(first, **owed), "", *rows, "", house.settings.name, house.settings.address])
