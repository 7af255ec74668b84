"""Statements as they go out: in the language of whose they are, by e-mail."""

from __future__ import annotations

import re

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.people import folded
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.outbox import MAIL, send_waiting
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.payments.statements import Statement, StatementRow
from abrazo.formats.email_address import read_email
from abrazo.formats.statement import StatementPaper, statement_mail
from abrazo.store import outbox
from abrazo.words import phrases as w


def paper_of(house: House, told: Statement) -> StatementPaper:
    """A statement as it goes out: texts in the language of whose it is, amounts as texts."""
    house = house.speaking_to(told.person)
    text, say, kept = house.settings.currency.text, house.say, house.settings

    def words(row: StatementRow) -> str:
        charged = w.STATEMENT_CHARGED if row.amount > 0 else w.STATEMENT_CAME_IN
        what = say(charged, number=row.number) if row.number else say(w.STATEMENT_CHANGED)
        return ", ".join((what, *row.papers))

    return StatementPaper(
        house=kept.name,
        address=kept.address,
        person=told.person.name,
        title=say(w.STATEMENT_TITLE, name=told.person.name),
        dates=say(w.STATEMENT_DATES, first=paper_date(house, told.start), last=paper_date(house, told.end)),
        heads=(say(w.STATEMENT_DATE), say(w.STATEMENT_WHAT), say(w.STATEMENT_AMOUNT), say(w.STATEMENT_BALANCE)),
        opening=(say(w.STATEMENT_OPENING), text(told.opening)),
        rows=tuple((paper_date(house, r.business_date), words(r), text(r.amount), text(r.balance)) for r in told.rows),
        closing=(say(w.STATEMENT_CLOSING), text(told.closing)),
        ages=tuple((say(w.STATEMENT_AGE, days=days), text(amount)) for days, amount in told.ages.items()),
        currency=kept.currency.code,
        name=f"statement-{_in_file_name(told.person.name)}-{told.end}",
    )


def _in_file_name(name: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", folded(name)).strip("-") or "account"


def mail_statement(house: House, actor: Actor, told: Statement, to: str, key: str) -> None:
    """Send a statement by e-mail; it waits while the line is down. Refused beside the address that is none."""
    if not to.strip():
        raise Refused(Code.NO_EMAIL, "email")
    to = read_email(to)
    with acting(house, actor, "sent", key, f"statement {told.person.id}") as act:
        if act.done is None:
            post_statement(act, told, to)
            act.answer = str(told.person.id)
    send_waiting(house)


def post_statement(act: Act, told: Statement, to: str) -> int:
    """Put a statement's e-mail out, in the act that is under way; gives the id of what waits to be sent."""
    paper, who = paper_of(act.house, told), told.person
    message = statement_mail(paper, to, act.house.clock.now())
    sheet = outbox.NewSheet(act.at, MAIL, paper.title, message, about_statement(who.id), recipient=to)
    name = Personal(who.name)
    act.record(Kind.STATEMENT_SENT, customer=who.id, first=told.start, last=told.end, name=name, to=Personal(to))
    return outbox.add(act.connection, sheet)


def about_statement(person: int) -> str:
    """What a statement that goes out is about."""
    return f"statement {person}"
