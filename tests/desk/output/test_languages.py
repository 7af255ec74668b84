"""Papers and messages in the language of whom they are for; screens, tags and everybody else's stay the house's."""

from __future__ import annotations

from datetime import date

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import JobPaper
from abrazo.desk.doors import jobs
from abrazo.desk.output import outbox
from abrazo.desk.output.statements import paper_of
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview import merging
from abrazo.desk.payments.statements import statement_of
from abrazo.desk.people import people
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import outbox as sheets
from tests.desk.conftest import Desk
from tests.desk.scenes import dropped, person
from tests.desk.test_both_houses import pay
from tests.desk.tickets.test_benefits import sale_for
from tests.desk.tickets.test_series import pick

FACTS = {"name": "Petra Moe", "phone": "020 910 0777"}


def speaks(desk: Desk, who: int, language: str = "es") -> None:
    people.change_person(desk.house, desk.tamsin, who, {**FACTS, "language": language})
    desk.house.forget()


def last(desk: Desk) -> sheets.Sheet:
    return sheets.latest(desk.house.connection, 1)[0]


def test_what_somebody_reads_is_in_their_language(desk: Desk) -> None:
    who = person(desk)
    speaks(desk, who)
    number = sale_for(desk, who)
    pick(desk, number, "sun-hat")
    pay(desk, number)
    whole = desk.whole(number)
    theirs = receipt_text(receipt_of(desk.house, whole, whole.payers[0].id))
    assert "Le ha atendido" in theirs
    assert "sáb 13 jun 2026" in theirs
    assert "Served by" not in theirs
    job, _ = dropped(desk, who)
    jobs.mark(desk.house, desk.tamsin, job, "ready", desk.key())
    assert "está listo en" in last(desk).body
    outbox.print_job(desk.house, desk.tamsin, job, JobPaper.RECEIPT, desk.key())
    assert "Traiga este papel" in last(desk).body
    outbox.print_job(desk.house, desk.tamsin, job, JobPaper.TAG, desk.key())
    assert "Deposit" in last(desk).body
    told = statement_of(desk.house, who, date(2026, 6, 1), date(2026, 6, 30))
    assert paper_of(desk.house, told).title == "Extracto de Petra Moe"


def test_none_is_the_houses_and_a_merge_keeps_it(desk: Desk) -> None:
    who, twice = person(desk), person(desk)
    with pytest.raises(Refused) as refusal:
        speaks(desk, who, "xx")
    assert (refusal.value.code, refusal.value.where) == (Code.FIELD_CHOICE, "language")
    speaks(desk, who)
    speaks(desk, who, "")
    jobs.mark(desk.house, desk.tamsin, dropped(desk, who)[0], "ready", desk.key())
    assert "is ready at" in last(desk).body
    people.change_person(desk.house, desk.tamsin, twice, {"name": "Petra M.", "language": "es"})
    merging.merge(desk.house, desk.boss, twice, who, desk.key())
    desk.house.forget()
    assert people.known(desk.house, who).language == "es"
