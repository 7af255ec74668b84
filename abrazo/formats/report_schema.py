"""JSON Schema of a report; `make schemas` writes it into docs/formats."""

from __future__ import annotations

from typing import Any

MONEY = {"type": "string", "pattern": r"^-?[0-9]+(\.[0-9]+)?$"}
TEXT, COUNT = {"type": "string"}, {"type": "integer"}


def _record(**fields: Any) -> dict[str, Any]:
    return {"type": "object", "properties": fields, "required": list(fields), "additionalProperties": False}


def _list(**fields: Any) -> dict[str, Any]:
    return {"type": "array", "items": _record(**fields)}


PIECES = {"type": "object", "additionalProperties": COUNT}
CORRECTED = {"ticket": COUNT, "of_day": TEXT, "amount": MONEY, "reason": TEXT, "by": TEXT}
REPORT: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "The report of one business day or several, of all tills or of one",
    **_record(
        schema={"const": 1},
        **{"from": TEXT, "to": TEXT},
        days={"type": "array", "items": TEXT},
        sealed={"type": "boolean"},
        corrected_later=_list(ticket=COUNT, day=TEXT, kind=TEXT, amount=MONEY),
        tills={"type": "array", "items": TEXT},
        sales=_list(group=TEXT, item=TEXT, count=COUNT, amount=MONEY, percent=MONEY),
        discounts=_list(kind=TEXT, reason=TEXT, count=COUNT, amount=MONEY),
        charges=_list(id=TEXT, count=COUNT, amount=MONEY),
        taxes=_list(id=TEXT, label=TEXT, rate=MONEY, base=MONEY, tax=MONEY),
        tax_on_deposits=_list(id=TEXT, what=TEXT, with_tax=MONEY, tax=MONEY),
        tenders=_list(tender=TEXT, route=TEXT, count=COUNT, amount=MONEY),
        tips=_list(person=TEXT, count=COUNT, amount=MONEY),
        accounts=_record(put_on=MONEY, received=MONEY),
        deposits=_record(taken=MONEY, used=MONEY, given_back=MONEY, kept=MONEY),
        stored_value=_record(sold=MONEY, used=MONEY, expired=MONEY, brought_in=MONEY),
        points=_record(earned=COUNT, spent=COUNT, brought_in=COUNT),
        refunds=_list(**CORRECTED),
        voids=_list(**CORRECTED),
        petty=_list(category=TEXT, direction=TEXT, count=COUNT, amount=MONEY),
        rounding=MONEY,
        open_tickets=_record(before=MONEY, after=MONEY),
        drawers=_list(
            till=TEXT,
            day=TEXT,
            taken_over=MONEY,
            difference=_record(reason=TEXT, amount=MONEY),
            float=MONEY,
            float_pieces=PIECES,
            cash_in=MONEY,
            cash_out=MONEY,
            expected=MONEY,
            counted={"anyOf": [MONEY, {"type": "null"}]},
            counted_pieces=PIECES,
            counted_by=TEXT,
            over=MONEY,
            to_bank=MONEY,
            left={"anyOf": [MONEY, {"type": "null"}]},
        ),
        hours=_list(hour=COUNT, count=COUNT, amount=MONEY),
        people=_list(person=TEXT, count=COUNT, amount=MONEY),
        exceptions=_list(kind=TEXT, person=TEXT, count=COUNT, amount=MONEY),
        first_sale=TEXT,
        last_sale=TEXT,
        opened_by=TEXT,
        closed_by=TEXT,
    ),
}
