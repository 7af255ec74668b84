"""A report in the formats in which it goes out."""

from __future__ import annotations

import json

from abrazo.desk.context import House
from abrazo.desk.output.views.report import paper, report_of
from abrazo.desk.till.views.day_figures import corrected_later
from abrazo.formats.day_report import day_report_text
from abrazo.formats.receipt_files import receipt_pdf
from abrazo.formats.report_json import report_csv, report_json, report_xlsx

MEDIA = {
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "pdf": "application/pdf",
    "text": "text/plain; charset=utf-8",
}


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
    later = [one for day in days for one in corrected_later(house, day)]
    return (json.dumps(report_json(found, later, currency), ensure_ascii=False, indent=1) + "\n").encode()
