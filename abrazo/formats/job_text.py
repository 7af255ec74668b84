"""A job's tag and the customer's receipt of it, as plain text at 42 columns."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.formats.receipt_text import WIDTH, row, rows, wrap


@dataclass(frozen=True, slots=True)
class JobPaper:
    """What both papers say, amounts as text. `tasks` are (words, amount, pieces); `paid` or `rest` is empty."""

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


def tag_text(paper: JobPaper) -> str:
    """The tag that goes onto the thing: what the workshop must know."""
    p = paper
    boxes = [f"[ ] {words}" + (f" ({pieces} pieces)" if pieces > 1 else "") for words, _, pieces in p.tasks]
    lines = [
        *row(p.number, p.due),
        *wrap(f"{p.person}: {p.thing}", WIDTH),
        "-" * WIDTH,
        *(line for box in boxes for line in wrap(box, WIDTH)),
        *(wrap(f"! {p.note}", WIDTH) if p.note else []),
        *(wrap(f"For {p.staff}", WIDTH) if p.staff else []),
        *row("Deposit", p.deposit or "none"),
    ]
    return "\n".join(line.rstrip() for line in lines)


def claim_text(paper: JobPaper) -> str:
    """The customer's receipt of the job: thing, tasks, due, estimate, deposit, rest."""
    p = paper
    return "\n".join(line.rstrip() for line in [p.house.center(WIDTH), *job_rows(p), "", *wrap(KEEP, WIDTH)])


KEEP = "Bring this when you come for it; without it your name will do."


def job_rows(paper: JobPaper) -> list[str]:
    """A job as a block of lines, as it also stands on the receipt of the visit."""
    p = paper
    return [
        *row(f"Job {p.number}", p.person[: WIDTH - 16]),
        *wrap(p.thing, WIDTH),
        *row("Ready by", p.due),
        "-" * WIDTH,
        *rows((words, amount) for words, amount, _ in p.tasks),
        *row(f"Estimate, {p.currency}", p.estimate),
        *(row("Deposit", f"-{p.deposit}") if p.deposit else []),
        *(row("Paid", p.paid) if p.paid else row("To pay when you collect", p.rest)),
    ]
