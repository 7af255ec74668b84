"""The report of days as JSON (docs/formats/report.schema.json) and as a table of rows; money as decimal strings."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from abrazo.core.figures import FigureKind
from abrazo.core.money import Currency
from abrazo.core.report import Corrected, Correction, Counted, DrawerFigures, Report

SCHEMA = 1
Row = tuple[str, str, str, str, str]  # section, name, detail, count, amount
FORMULA = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet takes for the beginning of a formula


def report_json(report: Report, currency: Currency) -> dict[str, Any]:
    """The report as JSON values."""
    text = currency.text

    def counted(kind: FigureKind, name: str, detail: str = "") -> list[dict[str, Any]]:
        return [
            {name: one.name, **({detail: one.detail} if detail else {}), "count": one.count, "amount": text(one.amount)}
            for one in report.of(kind)
        ]

    def sums(kind: FigureKind, names: Mapping[str, str]) -> dict[str, str]:
        return {key: text(report.amount(kind, name)) for key, name in names.items()}

    days = report.days
    return {
        "schema": SCHEMA,
        "from": days[0].date if days else "",
        "to": days[-1].date if days else "",
        "days": [day.date for day in days],
        "sealed": all(bool(day.closed_at) for day in days),
        "corrected_later": [
            {"ticket": one.ticket, "day": one.date, "kind": one.kind, "amount": text(one.amount)}
            for one in report.later
        ],
        "tills": [report.till] if report.till else sorted({one.till for one in report.drawers}),
        "sales": [
            {
                "group": one.name,
                "item": one.detail,
                "count": one.count,
                "amount": text(one.amount),
                "percent": _percent(one),
            }
            for one in report.of(FigureKind.SALE)
        ],
        "discounts": counted(FigureKind.GIVEN, "kind", "reason"),
        "charges": counted(FigureKind.CHARGE, "id"),
        "taxes": [
            {
                "id": one.name,
                "label": report.labels[one.name].label,
                "rate": report.labels[one.name].rate,
                "base": text(one.base),
                "tax": text(one.amount),
            }
            for one in report.of(FigureKind.TAX)
        ],
        "tax_on_deposits": [
            {"id": one.name, "what": one.detail, "with_tax": text(one.base), "tax": text(one.amount)}
            for one in report.of(FigureKind.ADVANCE)
        ],
        "tenders": counted(FigureKind.TENDER, "tender", "route"),
        "tips": counted(FigureKind.TIP, "person"),
        "accounts": sums(FigureKind.ACCOUNT, {"put_on": "put on", "received": "received"}),
        "deposits": sums(
            FigureKind.DEPOSIT, {"taken": "taken", "used": "used", "given_back": "given back", "kept": "kept"}
        ),
        "stored_value": sums(
            FigureKind.STORED, {"sold": "sold", "used": "used", "expired": "expired", "brought_in": "brought in"}
        ),
        "points": {
            id: sum(one.count for one in report.of(FigureKind.POINTS) if one.name == name)
            for id, name in (("earned", "earned"), ("spent", "spent"), ("brought_in", "brought in"))
        },
        "refunds": [_corrected(one, currency) for one in report.corrections if one.kind is Corrected.REFUND],
        "voids": [_corrected(one, currency) for one in report.corrections if one.kind is Corrected.VOID],
        "petty": [
            {"category": one.detail, "direction": one.name, "count": one.count, "amount": text(one.amount)}
            for one in report.of(FigureKind.PETTY)
        ],
        "rounding": text(report.amount(FigureKind.ROUNDING)),
        "open_tickets": {"before": text(report.open_before), "after": text(report.open_after)},
        "drawers": [_drawer(one, currency) for one in report.drawers],
        "hours": [{"hour": int(one.name), "count": one.count, "amount": text(one.amount)} for one in report.hours],
        "people": counted(FigureKind.SOLD_BY, "person"),
        "exceptions": [
            {"kind": one.kind, "person": one.person, "count": one.count, "amount": text(one.amount)}
            for one in report.exceptions
        ],
        "first_sale": next((day.first_sale for day in days if day.first_sale), ""),
        "last_sale": next((day.last_sale for day in reversed(days) if day.last_sale), ""),
        "opened_by": days[0].opened_by if days else "",
        "closed_by": days[-1].closed_by if days else "",
    }


def _percent(one: Counted) -> str:
    return f"{one.tenths // 10}.{one.tenths % 10}"


def _corrected(one: Correction, currency: Currency) -> dict[str, Any]:
    amount = currency.text(one.amount)
    return {"ticket": one.ticket, "of_day": one.of_date, "amount": amount, "reason": one.reason, "by": one.by}


def _drawer(one: DrawerFigures, currency: Currency) -> dict[str, Any]:
    text = currency.text
    return {
        "till": one.till,
        "day": one.date,
        "taken_over": text(one.taken_over),
        "difference": {"reason": one.difference, "amount": text(one.float_difference)},
        "float": text(one.float_amount),
        "float_pieces": _pieces(one.float_pieces, currency),
        "cash_in": text(one.all_in),
        "cash_out": text(one.all_out),
        "expected": text(one.expected),
        "counted": None if one.counted is None else text(one.counted),
        "counted_pieces": _pieces(one.counted_pieces, currency),
        "counted_by": one.counted_by,
        "over": text(one.over),
        "to_bank": text(one.to_bank),
        "left": None if one.left is None else text(one.left),
    }


def _pieces(pieces: Mapping[int, int], currency: Currency) -> dict[str, int]:
    return {currency.text(value): number for value, number in pieces.items()}


def report_rows(report: Report, currency: Currency) -> list[Row]:
    """The same figures as rows: section, name, detail, count, amount."""
    text = currency.text
    rows: list[Row] = []
    for kind in FigureKind:
        rows += [(kind, one.name, one.detail, str(one.count), text(one.amount)) for one in report.of(kind)]
    rows += [("tax base", one.name, "", "", text(one.base)) for one in report.of(FigureKind.TAX)]
    rows += [("advance base", one.name, one.detail, "", text(one.base)) for one in report.of(FigureKind.ADVANCE)]
    for drawer in report.drawers:
        for name, value in _drawer(drawer, currency).items():
            if isinstance(value, str) and name not in ("till", "day", "counted_by"):
                rows.append((f"drawer {drawer.till}", drawer.date, name, "", value))
    rows += [("hour", one.name, "", str(one.count), text(one.amount)) for one in report.hours]
    rows += [(one.kind, str(one.ticket), one.of_date, "", text(-one.amount)) for one in report.corrections]
    return rows


def report_csv(report: Report, currency: Currency) -> str:
    """The rows as CSV (RFC 4180); a cell that a spreadsheet would take for a formula begins with an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(("section", "name", "detail", "count", "amount"))
    for row in report_rows(report, currency):
        writer.writerow([*(harmless(cell) for cell in row[:3]), *row[3:]])
    return out.getvalue()


def report_xlsx(report: Report, currency: Currency) -> bytes:
    """The rows as a spreadsheet (Office Open XML, ISO/IEC 29500); texts are texts, never formulas."""
    from openpyxl import Workbook  # here, because it is slow to load and seldom needed

    book = Workbook(write_only=True)
    sheet = book.create_sheet("report")
    sheet.append(["section", "name", "detail", "count", "amount"])
    for section, name, detail, count, amount in report_rows(report, currency):
        texts = [harmless(cell) for cell in (section, name, detail)]
        sheet.append([*texts, int(count) if count else None, Decimal(amount)])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def harmless(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula: one that would be begins with an apostrophe."""
    return f"'{cell}" if cell.startswith(FORMULA) else cell
