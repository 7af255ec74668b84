"""Discounts, comps and surcharges, on a line or on the ticket; always with a reason, so that they can be watched.

Rules here
- a line carries one discount or comp with a code: another one replaces it
- a comp is a discount of 100 percent, and a supervisor's right, as is a free discount above the house's percent, or a
  second one; presets are everybody's
- a ticket's surcharge is a charge, shared like the service charge
- the unit price is overtyped only where the item is marked variable
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.money import read_decimal
from abrazo.core.states import AdjustmentKind, Scope, Share
from abrazo.desk.act import Facts
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets import benefits, series
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot
from abrazo.desk.tickets.starting import service_charge
from abrazo.formats.typed_amount import read_amount
from abrazo.store import adjustments, catalogue
from abrazo.store import charges as charges_kept
from abrazo.store import lines as lines_kept
from abrazo.store.adjustments import AppliedAdjustment, Preset
from abrazo.store.charges import ChargeRow

LONGEST = 60
KINDS = (AdjustmentKind.DISCOUNT, AdjustmentKind.COMP, AdjustmentKind.SURCHARGE)


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is to be given, as typed: a preset, or a code, or one of percent and amount with a reason."""

    kind: str = AdjustmentKind.DISCOUNT  # as chosen: a word of AdjustmentKind
    preset: str = ""
    code: str = ""
    percent: str = ""
    amount: str = ""
    reason: str = ""


def offers(house: House, line: LineRow | None) -> list[Preset]:
    """The presets that fit a line, or for the ticket; those with a code are asked for by it."""
    return [preset for preset in _fitting(house, line) if preset.code is None]


def _fitting(house: House, line: LineRow | None) -> list[Preset]:
    scopes = (Scope.LINE if line else Scope.TICKET, Scope.BOTH)
    group = line.report_group if line else None
    return [p for p in adjustments.list_presets(house.connection) if p.scope in scopes and p.fits(group)]


def for_one_touch(house: House, whole: TicketSnapshot) -> list[Preset]:
    """The discounts on the whole of a sale that are not given yet."""
    given = {one.reason for one in whole.given if one.line is None}
    return [p for p in offers(house, None) if p.kind == AdjustmentKind.DISCOUNT and p.name not in given]


def for_line(house: House, whole: TicketSnapshot, line_id: int) -> list[Preset]:
    """The discounts and comps that fit a line and are not given on it yet."""
    line = next((one for one in whole.standing if one.id == line_id), None)
    if line is None or not whole.core_line(line_id).discountable:
        return []
    given = {one.reason for one in whole.given if one.line == line_id}
    takes_off = (AdjustmentKind.DISCOUNT, AdjustmentKind.COMP)
    return [p for p in offers(house, line) if p.kind in takes_off and p.name not in given]


def give(house: House, actor: Actor, on: OnTicket, line_id: int | None, wanted: Wanted) -> None:
    """Give a discount, comp or surcharge on a line, or with no line on the ticket."""
    with changing(house, actor, on, "adjusted") as edit:
        if edit.done is not None:
            return
        given = _read(edit, line_id, wanted)
        label = edit.whole.line(line_id).label if line_id else ""
        if line_id is not None and not edit.whole.core_line(line_id).discountable:
            raise Refused(Code.NOT_A_SALE, "kind", on=label)
        if given.kind == AdjustmentKind.SURCHARGE and line_id is None:
            how_much = (given.percent or "0", house.settings.surcharge_tax, Share.PROPORTIONAL, given.amount)
            charge = ChargeRow(0, given.reason, *how_much)
            charges_kept.add_charge(house.connection, edit.id, charge)
        else:
            _replace_coded(edit, given)
            adjustments.add(house.connection, edit.id, given)
        edit.wrote(
            Kind.ADJUSTED, **_about(given), line=line_id, text=Personal(label) if label else None, lender=given.lender
        )


def _read(edit: TicketChange, line_id: int | None, wanted: Wanted) -> AppliedAdjustment:
    preset = _preset(edit, line_id, wanted)
    if preset is not None:
        if any(one.line == line_id and one.reason == preset.name and not one.code for one in edit.whole.given):
            raise Refused(Code.PRESET_THERE, "preset", name=preset.name)
        percent = "100" if preset.kind == AdjustmentKind.COMP else preset.percent
        by = need(edit.actor, Right.COMP) if preset.kind == AdjustmentKind.COMP else None
        return AppliedAdjustment(
            0,
            line_id,
            preset.kind,
            percent,
            preset.amount,
            preset.name,
            preset.code or "",
            edit.at,
            edit.actor.staff.id,
            by,
        )
    if wanted.kind not in KINDS:
        raise Refused(Code.NO_ADJUSTMENT_KIND, "kind")
    kind = AdjustmentKind(wanted.kind)
    reason = " ".join(wanted.reason.split())
    if not reason or len(reason) > LONGEST:
        raise Refused(Code.NO_ADJUSTMENT_REASON, 'reason', most=LONGEST)  # fmt: skip
    percent, amount = ("100", None) if kind == AdjustmentKind.COMP else _figures(edit.house, wanted)
    whole = kind == AdjustmentKind.COMP or (percent is not None and Fraction(percent) == 100)
    free = kind == AdjustmentKind.SURCHARGE or (not whole and _is_everybodys(edit, line_id, percent))
    by = None if free else need(edit.actor, Right.COMP if whole else Right.FREE_DISCOUNT)
    who = (edit.at, edit.actor.staff.id, by)
    return AppliedAdjustment(0, line_id, kind, percent, amount, reason, "", *who, free=True)


def _is_everybodys(edit: TicketChange, line_id: int | None, percent: str | None) -> bool:
    """Whether a free discount is within the percent that everybody may give, once on a line and once on the ticket.

    Never as an amount: it would stay as it is when pieces or lines come off.
    """
    given = [one for one in edit.whole.given if one.line == line_id and one.free]
    if percent is None or any(one.kind == AdjustmentKind.DISCOUNT for one in given):
        return False
    return Fraction(percent) <= Fraction(edit.house.settings.free_discount)


def _preset(edit: TicketChange, line_id: int | None, wanted: Wanted) -> Preset | None:
    known = _fitting(edit.house, edit.whole.line(line_id) if line_id is not None else None)
    if wanted.preset:
        found = next((p for p in known if p.id == wanted.preset and p.code is None), None)
        if found is None:
            raise NotFound(f"no preset {wanted.preset}")
        return found
    code = wanted.code.strip().upper()
    if not code:
        return None
    found = next((p for p in known if p.code == code), None)
    if found is None:
        raise Refused(Code.NO_CODE_FOR_LINE if line_id else Code.NO_CODE_FOR_TICKET, "code", code=code[:20])
    return found


def _figures(house: House, wanted: Wanted) -> tuple[str | None, int | None]:
    percent, amount = wanted.percent.strip().replace(",", "."), wanted.amount.strip().replace(",", ".")
    if bool(percent) == bool(amount):
        raise Refused(Code.PERCENT_OR_AMOUNT, "percent")
    if percent:
        value, decimals = read_decimal(percent, "percent")
        if decimals > 2 or not 0 < value <= 100:
            raise Refused(Code.PERCENT_RANGE, "percent")
        return percent, None
    figure = read_amount(house.settings.currency, amount, "amount")
    if figure <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    return None, figure


def _replace_coded(edit: TicketChange, given: AppliedAdjustment) -> None:
    """A line carries one coded discount: another one replaces the first."""
    if not given.code or given.line is None:
        return
    for one in edit.whole.given:
        if one.line == given.line and one.code:
            adjustments.end(edit.house.connection, one.id, edit.at, edit.actor.staff.id)
            edit.wrote(Kind.ADJUSTMENT_REPLACED, **_about(one), code=one.code)


def take_off(house: House, actor: Actor, on: OnTicket, given_id: int, line_id: int | None = None) -> None:
    """Take an adjustment off; of a ticket discount with `line_id` only one line."""
    with changing(house, actor, on) as edit:
        given = next((one for one in edit.whole.given if one.id == given_id), None)
        if given is None:
            raise NotFound(f"no adjustment {given_id} on this ticket")
        if given.series is not None:
            series.keep_series(edit, given.series, another_day=True)
            return
        if given.benefit is not None:
            benefits.keep_benefit(edit, given.benefit, another_day=True)
            return
        if line_id is not None and given.line is None:
            line = edit.whole.line(line_id)
            adjustments.take_off(house.connection, given_id, line_id)
            edit.wrote(Kind.ADJUSTMENT_NOT_ON, **_about(given), line=line_id, text=Personal(line.label))
            return
        adjustments.end(house.connection, given_id, edit.at, actor.staff.id)
        edit.wrote(Kind.ADJUSTMENT_ENDED, **_about(given))


def take_charge_off(house: House, actor: Actor, on: OnTicket, charge_id: int) -> None:
    """A surcharge, delivery or service charge does not count any more; who took it off is recorded."""
    with changing(house, actor, on) as edit:
        charge = next((one for one in edit.whole.charges if one.id == charge_id), None)
        if charge is None:
            raise NotFound(f"no charge {charge_id} on this ticket")
        charges_kept.end_charge(house.connection, charge_id, edit.at, actor.staff.id)
        edit.wrote(Kind.CHARGE_ENDED, charge=charge_id, label=Personal(charge.label))


def put_service_charge(house: House, actor: Actor, on: OnTicket) -> None:
    """The house's service charge, by hand: for a party that grew, or that asked for it."""
    with changing(house, actor, on, "adjusted") as edit:
        if edit.done is None:
            charge = service_charge(house)
            if any(one.label == charge.label for one in edit.whole.charges):
                raise Refused(Code.SERVICE_CHARGE_THERE, "service")
            charges_kept.add_charge(house.connection, on.id, charge)
            edit.wrote(Kind.CHARGE_ADDED, label=Personal(charge.label))


def keep_benefit(house: House, actor: Actor, on: OnTicket, benefit: str, *, another_day: bool) -> None:
    """A benefit or series of the customer's is kept for another day on this visit, or used after all."""
    with changing(house, actor, on) as edit:
        number = benefit.removeprefix(series.KEY)
        if number != benefit and number.isdecimal() and len(number) < 10:
            series.keep_series(edit, int(number), another_day=another_day)
            return
        benefits.keep_benefit(edit, benefit, another_day=another_day)


def set_price(house: House, actor: Actor, on: OnTicket, line_id: int, price: int) -> None:
    """Overtype the unit price of a line: by right where the item is not marked variable, or the price is nothing."""
    with changing(house, actor, on) as edit:
        line = edit.whole.line(line_id)
        if price < 0:
            raise Refused(Code.NEGATIVE_PRICE, "price")
        variable = line.item in catalogue.variable_items(house.connection)
        by = None if variable and price else need(actor, Right.SET_PRICE)
        lines_kept.set_price(house.connection, line_id, price)
        text, before = Personal(line.label), line.unit_price
        edit.wrote(Kind.LINE_REPRICED, line=line_id, text=text, now=price, before=before, lender=by)


def _about(given: AppliedAdjustment) -> Facts:
    """What was given as the facts of a journal entry."""
    about: Facts = {"adjustment": given.id or None, "given": given.kind, "reason": Personal(given.reason)}
    how_much: Facts = {"percent": given.percent, "amount": given.amount}
    return about if given.kind == AdjustmentKind.COMP else about | how_much


def is_variable(house: House, item: str) -> bool:
    """Whether an item's unit price may be overtyped."""
    return item in catalogue.variable_items(house.connection)
