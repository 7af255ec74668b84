"""A report in the formats in which it goes out."""

from __future__ import annotations

import json

from abrazo.core.journal import Kind
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output.views.report import paper, report_of
from abrazo.desk.permissions import Right, need
from abrazo.formats.day_report import day_report_text
from abrazo.formats.receipt_files import receipt_pdf
from abrazo.formats.report_json import report_csv, report_json, report_xlsx
from abrazo.store import till

MEDIA = {
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "pdf": "application/pdf",
    "text": "text/plain; charset=utf-8",
}


def report_file(house: House, actor: Actor, days: list[int], till_id: str, form: str) -> bytes:
    """The report as a file for somebody. Refused without the right; NotFound for no such format or till."""
    need(actor, Right.SEE_REPORTS)
    if form not in MEDIA or (till_id and till_id not in house.tills()):
        raise NotFound(f"no report of {till_id!r} as {form!r}")
    made = written(house, days, till_id or None, form)
    with noting(house) as note:
        dates = till.dates_of(house.connection)
        note(actor, Kind.FILE_WRITTEN, what="report", form=form, since=dates[days[0]], until=dates[days[-1]])
    return made


def written(house: House, days: list[int], till_id: str | None, form: str) -> bytes:
    """A report in one of the formats of `MEDIA`."""
    currency = house.settings.currency
    if form in ("text", "pdf"):
        text = day_report_text(paper(house, days, till_id))
        return f"{text}\n".encode() if form == "text" else receipt_pdf(text)
    found = report_of(house, days, till_id)
    if form == "csv":
        return report_csv(found, currency).encode()
    if form == "xlsx":
        return report_xlsx(found, currency)
    return (json.dumps(report_json(found, currency), ensure_ascii=False, indent=1) + "\n").encode()
