"""The day's report as plain text at 42 columns."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.formats.receipt_text import WIDTH, row, rows, wrap
from abrazo.words import phrases as w
from abrazo.words.speaking import Reader


@dataclass(frozen=True, slots=True)
class DayReport:
    """A day's report, in a language: heading lines, then sections of (words, amount); every amount is text already."""

    house: str
    business_date: str
    heading: tuple[str, ...]
    sections: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    language: str = "en"


def day_report_text(report: DayReport) -> str:
    """The report as it prints."""
    lines = [line.center(WIDTH).rstrip() for line in wrap(report.house, WIDTH)]
    lines += row(Reader(language=report.language).say(w.DAY_REPORT), report.business_date)
    lines += [line for words in report.heading for line in wrap(words, WIDTH)]
    for title, pairs in report.sections:
        lines += ["-" * WIDTH, title, *rows(pairs)]
    return "\n".join(line.rstrip() for line in [*lines, "-" * WIDTH])
