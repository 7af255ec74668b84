"""A job's tag and the customer's receipt of it, as plain text at 42 columns."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.formats.receipt_text import WIDTH, row, rows, wrap
from abrazo.words import phrases as w
from abrazo.words.speaking import Reader


@dataclass(frozen=True, slots=True)
class JobPaper:
    """What both papers say, amounts as text. `tasks` are (words, amount, pieces); `paid` or `rest` is empty.

    A surcharge is a task without pieces.
    """

    house: str
    number: str
    code: str
    person: str
    phone: str
    thing: str
    tasks: tuple[tuple[str, str, int], ...]
    note: str
    due: str
    estimate: str
    deposit: str
    paid: str
    rest: str
    staff: str
    currency: str
    language: str = "en"

    @property
    def reader(self) -> Reader:
        """Who reads it."""
        return Reader(language=self.language)


def tag_text(paper: JobPaper) -> str:
    """The tag that goes onto the thing: what the workshop must know."""
    p, say = paper, paper.reader.say
    tasks = [say(w.TASK_PIECES, task=task, pieces=n) if n > 1 else task for task, _, n in p.tasks if n]
    lines = [
        *row(p.number, p.due),
        *wrap(f"{p.person}: {p.thing}", WIDTH),
        "-" * WIDTH,
        *(line for task in tasks for line in wrap(f"[ ] {task}", WIDTH)),
        *(wrap(f"! {p.note}", WIDTH) if p.note else []),
        *(wrap(say(w.TAG_FOR, name=p.staff), WIDTH) if p.staff else []),
        *row(say(w.DEPOSIT_HEAD), p.deposit or say(w.NO_DEPOSIT)),
    ]
    return "\n".join(line.rstrip() for line in lines)


def claim_text(paper: JobPaper) -> str:
    """The customer's receipt of the job: thing, tasks, due, estimate, deposit, rest."""
    keep = wrap(paper.reader.say(w.KEEP_CLAIM), WIDTH)
    return "\n".join(line.rstrip() for line in [paper.house.center(WIDTH), *job_rows(paper), "", *keep])


def job_rows(paper: JobPaper) -> list[str]:
    """A job as a block of lines, as it also stands on the receipt of the visit."""
    p, say = paper, paper.reader.say
    return [
        *row(say(w.JOB_LINE, number=p.number), p.person[: WIDTH - 16]),
        *wrap(p.thing, WIDTH),
        *row(say(w.READY_BY), p.due),
        "-" * WIDTH,
        *rows((words, amount) for words, amount, _ in p.tasks),
        *row(say(w.ESTIMATE_IN, currency=p.currency), p.estimate),
        *(row(say(w.DEPOSIT_HEAD), f"-{p.deposit}") if p.deposit else []),
        *(row(say(w.PAID_LINE), p.paid) if p.paid else row(say(w.PAY_ON_COLLECTING), p.rest)),
    ]
