"""The whole bill of a ticket: lines, charges, taxes, shares, tips, payments, composed from the other modules.

Rules here
- what a ticket may contain: ids known and used once, every share payable, amounts within bounds
- the order of the reckoning: lines, discounts, charges, tax, sharing, tips, paying
- a payer who has settled keeps their cells; the rest is shared among the others
- so does a payer who gives a stated amount: their part of every row, the rest for the others
- a payer may take the charges evenly or in proportion; of those who chose, the last takes the rest
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from abrazo.core.bill import Bill, BillRow, PayerBill, TableRow
from abrazo.core.errors import Code, Refused, pointer
from abrazo.core.money import bounded, round_half_up
from abrazo.core.sharing import (
    Guest,
    Payer,
    Row,
    apportion,
    column_weights,
    line_weights,
    round_table,
    rounded_columns,
    stated_cells,
)
from abrazo.core.states import RowKind, Share, Split, TaxMode, TipsTo
from abrazo.core.tax import TaxBill, parts_fit, tax_bill
from abrazo.core.tenders import Account, cash_due, settle_all
from abrazo.core.ticket import Charge, LineBill, Settled, Ticket, charge_amount, line_bills
from abrazo.core.tips import Tip, pooled, staff_tips, tip_amount

ALL = Guest("all")


@dataclass(frozen=True, slots=True)
class _Shared:
    """Totals, rows, memo and bases of every payer, as the way of sharing gives them."""

    totals: tuple[int, ...]
    rows: tuple[tuple[BillRow, ...], ...]
    memo: tuple[tuple[tuple[str, int], ...], ...]
    nets: tuple[int, ...] = ()
    grosses: tuple[int, ...] = ()
    table: tuple[TableRow, ...] = ()


NOTHING_CHOSEN: Mapping[int, int] = {}


def reckon(ticket: Ticket) -> Bill:
    """Reckon a ticket. Raises Refused for anything that breaks a rule, naming the place as a JSON pointer."""
    check_ids(ticket)
    guests = ticket.guests or (ALL,)
    payers = ticket.payers or tuple(Payer(guest.id, (guest.id,)) for guest in guests)
    lines = line_bills(ticket)
    charges = [charge_amount(c, lines, pointer("charges", i)) for i, c in enumerate(ticket.charges)]
    taxes = _taxes(ticket, lines, charges)
    net = bounded(sum(line.net for line in lines))
    gross = bounded(sum(line.gross for line in lines))
    tax_total = sum(tax.tax for tax in taxes)
    total = bounded(net + sum(charges) + (tax_total if ticket.tax_mode == TaxMode.EXCLUSIVE else 0))
    if ticket.split == Split.AMOUNTS:
        shared = _by_amounts(ticket, payers, taxes, total)
    else:
        shared = _by_table(ticket, guests, payers, lines, charges, taxes)
    accounts = _accounts(ticket, payers, shared)
    tips = bounded(sum(account.tip for account in accounts))
    bounded(sum(account.paid for account in accounts))
    bounded(sum(account.due for account in accounts))
    served = [(line.staff, bill.gross) for line, bill in zip(ticket.lines, lines, strict=True)]
    return Bill(
        lines=lines,
        charges=tuple((charge.id, amount) for charge, amount in zip(ticket.charges, charges, strict=True)),
        taxes=taxes,
        gross=gross,
        net=net,
        charges_total=bounded(sum(charges)),
        tax_total=bounded(tax_total),
        total=total,
        payers=tuple(
            PayerBill(payer.id, rows, memo, account, cash_due(account.due, ticket.cash_rounding))
            for payer, rows, memo, account in zip(payers, shared.rows, shared.memo, accounts, strict=True)
        ),
        staff_tips=tuple(staff_tips(tips, served, ticket.staff) if ticket.tips_to == TipsTo.STAFF else pooled(tips)),
        table=shared.table,
        payer_nets=shared.nets,
    )


# ---- what may stand on a ticket


def _once(kind: str, ids: Iterable[str], field: str | None = "id") -> set[str]:
    seen: set[str] = set()
    for index, name in enumerate(ids):
        if name in seen:
            place = pointer(*kind.split("/"), index) + (f"/{field}" if field else "")
            raise Refused(Code.USED_TWICE, place, name=name)
        seen.add(name)
    return seen


def _known(name: str | None, ids: set[str], what: str, *where: str | int) -> None:
    if name is not None and name not in ids:
        raise Refused(Code.UNKNOWN_ID, pointer(*where), kind=what, name=name)


def check_ids(ticket: Ticket) -> None:
    """Refuse ids that are unknown or used twice, and shares without weight."""
    taxes = _once("taxes", (tax.id for tax in ticket.taxes))
    guests = _once("guests", (guest.id for guest in ticket.guests)) or {ALL.id}
    lines = _once("lines", (line.id for line in ticket.lines))
    _once("charges", (charge.id for charge in ticket.charges))
    payers = _once("payers", (payer.id for payer in ticket.payers)) or guests
    for i, line in enumerate(ticket.lines):
        _known(line.tax, taxes, "tax", "lines", i, "tax")
        for guest, _ in line.shares:
            _known(guest, guests, "guest", "lines", i, "shares", guest)
        if line.shares and not any(weight for _, weight in line.shares):
            raise Refused(Code.NO_WEIGHT, pointer("lines", i, "shares"))
    for i, discount in enumerate(ticket.discounts):
        _once(f"discounts/{i}/lines", discount.lines, field=None)
        for j, line_id in enumerate(discount.lines):
            _known(line_id, lines, "line", "discounts", i, "lines", j)
    for i, charge in enumerate(ticket.charges):
        _known(charge.tax, taxes, "tax", "charges", i, "tax")
    for i, payer in enumerate(ticket.payers):
        _once(f"payers/{i}/guests", payer.guests, field=None)
        for j, guest in enumerate(payer.guests):
            _known(guest, guests, "guest", "payers", i, "guests", j)
        if payer.amount is not None and ticket.split != Split.AMOUNTS:
            raise Refused(Code.AMOUNT_WITHOUT_SPLIT, pointer("payers", i, "amount"))
    for i, tip in enumerate(ticket.tips):
        _known(tip.payer, payers, "payer", "tips", i, "payer")
        if ticket.split == Split.AMOUNTS and tip.percent is not None and tip.basis != "total":
            raise Refused(Code.TIP_BASIS, pointer("tips", i))
    for i, payment in enumerate(ticket.payments):
        _known(payment.payer, payers, "payer", "payments", i, "payer")
    for i, tax in enumerate(ticket.taxes):
        if tax.parts and not parts_fit(tax.rate, [part.rate for part in tax.parts]):
            raise Refused(Code.TAX_PARTS, pointer("taxes", i))


def _taxes(ticket: Ticket, lines: Sequence[LineBill], charges: Sequence[int]) -> tuple[TaxBill, ...]:
    bases = {tax.id: 0 for tax in ticket.taxes}
    taxed = [(line.tax, bill.net) for line, bill in zip(ticket.lines, lines, strict=True)]
    taxed += [(charge.tax, amount) for charge, amount in zip(ticket.charges, charges, strict=True)]
    for tax_id, amount in taxed:
        if tax_id is not None:
            bases[tax_id] += amount
    return tuple(tax_bill(tax, bases[tax.id], ticket.tax_mode) for tax in ticket.taxes)


# ---- sharing by a table of rows


def payers_of(guests: Sequence[Guest], payers: Sequence[Payer]) -> dict[str, list[int]]:
    """The indexes of the payers who stand for each guest. A sole payer without guests stands for all."""
    if len(payers) == 1 and not payers[0].guests:
        return {guest.id: [0] for guest in guests}
    return {guest.id: [j for j, payer in enumerate(payers) if guest.id in payer.guests] for guest in guests}


def _weights(ticket: Ticket, guests: Sequence[Guest], payers: Sequence[Payer]) -> list[tuple[int, ...]]:
    """Each line's weights by payer."""
    if ticket.split == Split.EQUAL:
        return [(1,) * len(payers)] * len(ticket.lines)
    found = payers_of(guests, payers)
    return [line_weights(line.shares, guests, found, len(payers), "/payers") for line in ticket.lines]


def _rest_of_stated(
    ticket: Ticket, payers: Sequence[Payer], weights: list[tuple[int, ...]], open_: Sequence[bool]
) -> list[tuple[int, ...]]:
    """Weights where nobody but who gives a stated amount has a line: what they do not give of it, the others share."""
    stated = [payer.id in ticket.stated for payer in payers]
    others = tuple(int(is_open) for is_open in open_)

    def orphaned(row: tuple[int, ...]) -> bool:
        theirs = any(weight and gives for weight, gives in zip(row, stated, strict=True))
        return theirs and not any(weight and is_open for weight, is_open in zip(row, open_, strict=True))

    return [
        tuple(weight + other for weight, other in zip(row, others, strict=True)) if orphaned(row) else row
        for row in weights
    ]


def _charge_weights(
    ticket: Ticket, charge: Charge, payers: Sequence[Payer], line_sums: tuple[int, ...]
) -> tuple[int, ...]:
    if ticket.split == Split.EQUAL:
        return (1,) * len(payers)
    if charge.share == Share.PROPORTIONAL and any(line_sums):
        return line_sums
    alone = len(payers) == 1
    return tuple(int(bool(payer.guests) or alone) for payer in payers)


def _chosen_fees(
    ticket: Ticket, charge: Charge, payers: Sequence[Payer], amount: int, sums: tuple[int, ...], open_: Sequence[int]
) -> dict[int, int]:
    """What payers who chose how they take the charges have of one, by column; `open_` are those who have not settled.

    When all of them chose, the last takes the rest instead.
    """
    chosen = [j for j in open_ if payers[j].id in ticket.fees]
    if open_ and len(chosen) == len(open_):
        chosen = chosen[:-1]
    found = {}
    for j in chosen:
        weights = _charge_weights(ticket, replace(charge, share=ticket.fees[payers[j].id]), payers, sums)
        found[j] = apportion(amount, weights)[j]
    return found


def _without_settled(row: Row, kept: Sequence[int | None]) -> tuple[Row, tuple[int, ...]]:
    """What a row leaves to those who have not settled, and what the settled keep of it."""
    fixed = tuple(cell or 0 for cell in kept)
    weights = tuple(0 if cell is not None else weight for weight, cell in zip(row.weights, kept, strict=True))
    rest = row.amount - sum(fixed)
    if rest < 0 or (rest and not any(weights)):
        raise Refused(Code.CHANGES_PAID)
    return Row(rest, weights), fixed


def _kept_at_0(settled: Settled, kind: RowKind, ref: str) -> bool:
    """Whether a settled payer keeps a line that came to nothing, such as a comped one: it stays on their bill."""
    return kind == RowKind.LINE and (kind, ref) in settled.cells


def _rows_of(
    cells_of: Sequence[tuple[tuple[RowKind, str], Row, tuple[int, ...], tuple[int, ...]]],
    j: int,
    settled: Settled | None,
) -> list[BillRow]:
    """A payer's rows: what they have a weight in or keep, lines also at 0."""
    return [
        BillRow(ref, kind, cells[j] + keeps[j])
        for (kind, ref), row, cells, keeps in cells_of
        if keeps[j]
        or (row.weights[j] and (kind == RowKind.LINE or row.amount))
        or (settled is not None and _kept_at_0(settled, kind, ref))
    ]


def _all_kept(settled: Sequence[Settled | None], refs: Sequence[tuple[str, str]]) -> None:
    """Refuse when something that a settled payer paid for has left the ticket."""
    for kept in settled:
        if kept and any(amount for ref, amount in kept.cells.items() if ref not in refs):
            raise Refused(Code.CHANGES_PAID)


def _by_table(
    ticket: Ticket,
    guests: Sequence[Guest],
    payers: Sequence[Payer],
    lines: Sequence[LineBill],
    charges: Sequence[int],
    taxes: Sequence[TaxBill],
) -> _Shared:
    columns = len(payers)
    stated = _stated_parts(ticket, payers, lines, charges, taxes) if ticket.stated else {}
    kept_by = {**stated, **ticket.settled}
    settled = [kept_by.get(payer.id) for payer in payers]
    weights = _weights(ticket, guests, payers)
    if ticket.stated:
        weights = _rest_of_stated(ticket, payers, weights, [s is None for s in settled])
    refs: list[tuple[RowKind, str]] = []
    rows: list[Row] = []
    fixed: list[tuple[int, ...]] = []

    nothing = (0,) * columns
    anybody = any(s is not None for s in settled)

    def add(kind: RowKind, ref: str, row: Row, chosen: Mapping[int, int] = NOTHING_CHOSEN) -> None:
        if not anybody and not chosen:
            refs.append((kind, ref))
            rows.append(row)
            fixed.append(nothing)
            return
        kept = [chosen.get(j) if s is None else s.cells.get((kind, ref), 0) for j, s in enumerate(settled)]
        rest, keeps = _without_settled(row, kept) if any(k is not None for k in kept) else (row, nothing)
        refs.append((kind, ref))
        rows.append(rest)
        fixed.append(keeps)

    for line, row_weights in zip(lines, weights, strict=True):
        add(RowKind.LINE, line.id, Row(line.net, row_weights))
    line_sums = column_weights(rows, columns) if ticket.charges else ()
    whole_lines = [Row(line.net, row_weights) for line, row_weights in zip(lines, weights, strict=True)]
    all_sums = column_weights(whole_lines, columns) if ticket.fees else line_sums
    open_ = [j for j, s in enumerate(settled) if s is None]
    fees: list[Row] = []  # what payers chose to take of the charges, for their base in each tax
    for charge, amount in zip(ticket.charges, charges, strict=True):
        row_weights = _charge_weights(ticket, charge, payers, line_sums)
        chosen = _chosen_fees(ticket, charge, payers, amount, all_sums, open_) if ticket.fees else {}
        if chosen and ticket.split == Split.SHARES:
            others = [j for j in open_ if j not in chosen]
            if sum(chosen.values()) + sum(s.cells.get((RowKind.CHARGE, charge.id), 0) for s in settled if s) > amount:
                raise Refused(Code.FEES_TOO_MUCH, "/charges")
            if not any(row_weights[j] for j in others):
                row_weights = tuple(int(j in others) for j in range(columns))
        add(RowKind.CHARGE, charge.id, Row(amount, row_weights), chosen)
        fees.append(Row(sum(chosen.values()), tuple(chosen.get(j, 0) for j in range(columns))))
    bases = _tax_bases(ticket, rows, columns, fees)
    if ticket.tax_mode == TaxMode.EXCLUSIVE:
        for tax in taxes:
            everyone = (1,) * columns if ticket.split == Split.EQUAL else bases[tax.id]
            add(RowKind.TAX, tax.id, Row(tax.tax, everyone))
    _all_kept(settled, refs)
    table = round_table(rows, columns)
    totals = tuple(
        total + sum(keeps[j] for keeps in fixed) if anybody or ticket.fees else total
        for j, total in enumerate(table.totals)
    )
    cells_of = list(zip(refs, rows, table.cells, fixed, strict=True))
    shown = tuple([tuple(_rows_of(cells_of, j, settled[j])) for j in range(columns)])
    memo = _memo(ticket, taxes, bases, settled, columns)
    tipped = [(line, of_line) for line, of_line in zip(lines, weights, strict=True) if line.id not in ticket.untipped]
    nets, grosses = _tip_bases(tipped, [stated.get(payer.id) for payer in payers])
    shared = tuple([TableRow(ref, kind, row, cells, keeps) for (kind, ref), row, cells, keeps in cells_of])
    return _Shared(totals, shown, memo, nets, grosses, shared)


def _stated_parts(
    ticket: Ticket, payers: Sequence[Payer], lines: Sequence[LineBill], charges: Sequence[int], taxes: Sequence[TaxBill]
) -> dict[str, Settled]:
    """What those who give a stated amount, and have not settled yet, have of every row, and of every contained tax."""
    rows = [(RowKind.LINE, line.id, line.net, kept.tax) for line, kept in zip(lines, ticket.lines, strict=True)]
    rows += [(RowKind.CHARGE, c.id, amount, c.tax) for c, amount in zip(ticket.charges, charges, strict=True)]
    if ticket.tax_mode == TaxMode.EXCLUSIVE:
        rows += [(RowKind.TAX, tax.id, tax.tax, None) for tax in taxes]
    settled = ticket.settled.values()
    left = [max(0, amount - sum(s.cells.get((kind, ref), 0) for s in settled)) for kind, ref, amount, _ in rows]
    who = [payer.id for payer in payers if payer.id in ticket.stated and payer.id not in ticket.settled]
    if not who:
        return {}
    cells = stated_cells([ticket.stated[name] for name in who], left)
    rest = tuple(has - sum(mine) for has, mine in zip(left, zip(*cells, strict=True), strict=True))
    memo: list[dict[str, int]] = [{} for _ in who]
    for tax in taxes if ticket.tax_mode == TaxMode.INCLUSIVE else ():
        bases = [sum(cell for cell, row in zip(mine, rows, strict=True) if row[3] == tax.id) for mine in (*cells, rest)]
        parts = apportion(tax.tax - sum(s.memo.get(tax.id, 0) for s in settled), bases) if any(bases) else ()
        for mine, part, base in zip(memo, parts, bases, strict=False):
            if base:
                mine[tax.id] = part
    refs = [(kind, ref) for kind, ref, _, _ in rows]
    return {
        name: Settled({ref: cell for ref, cell in zip(refs, mine, strict=True) if cell}, taxed)
        for name, mine, taxed in zip(who, cells, memo, strict=True)
    }


def _tip_bases(
    lines: Sequence[tuple[LineBill, tuple[int, ...]]], stated: Sequence[Settled | None]
) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """What a tip in percent is reckoned on, by payer: exact sums of their part of nets and grosses, rounded once."""
    columns = len(stated)
    if not any(stated):
        net_rows = [Row(line.net, of_line) for line, of_line in lines]
        gross_rows = [Row(line.gross, of_line) for line, of_line in lines]
        nets_alone = rounded_columns(net_rows, columns)
        alike = all(line.net == line.gross for line, _ in lines)
        return nets_alone, nets_alone if alike else rounded_columns(gross_rows, columns)
    nets, grosses = [Fraction(0)] * columns, [Fraction(0)] * columns
    for line, of_line in lines:
        given = [s.cells.get((RowKind.LINE, line.id), 0) if s else 0 for s in stated]
        others = [0 if s else weight for s, weight in zip(stated, of_line, strict=True)]
        base, rest = sum(others), line.net - sum(given)
        for j in range(columns):
            mine = Fraction(given[j]) if stated[j] else Fraction(rest * others[j], base) if base else Fraction(0)
            nets[j] += mine
            grosses[j] += mine * line.gross / line.net if line.net else Fraction(line.gross * others[j], base or 1)
    return tuple(map(round_half_up, nets)), tuple(map(round_half_up, grosses))


def _tax_bases(ticket: Ticket, rows: Sequence[Row], columns: int, fees: Sequence[Row]) -> dict[str, tuple[int, ...]]:
    """Every payer's base in every tax, as whole weights; `rows` are lines, then charges, `fees` charges once more."""
    owners = [line.tax for line in ticket.lines] + [charge.tax for charge in ticket.charges] * 2
    rows = [*rows, *fees]
    return {
        tax.id: column_weights([row for owner, row in zip(owners, rows, strict=True) if owner == tax.id], columns)
        for tax in ticket.taxes
    }


def _memo(
    ticket: Ticket,
    taxes: Sequence[TaxBill],
    bases: dict[str, tuple[int, ...]],
    settled: Sequence[Settled | None],
    columns: int,
) -> tuple[tuple[tuple[str, int], ...], ...]:
    """Contained taxes per payer; empty in exclusive mode, where the rows say it."""
    found: list[list[tuple[str, int]]] = [[] for _ in range(columns)]
    if ticket.tax_mode == TaxMode.EXCLUSIVE:
        return tuple(() for _ in range(columns))
    for tax in taxes:
        kept = [None if s is None else s.memo.get(tax.id) for s in settled]
        rest = tax.tax - sum(part or 0 for part in kept)
        parts = apportion(rest, bases[tax.id]) if any(bases[tax.id]) else (0,) * columns
        for j in range(columns):
            keep = kept[j]
            if keep is not None:
                found[j].append((tax.id, keep))
            elif bases[tax.id][j]:
                found[j].append((tax.id, parts[j]))
    return tuple(tuple(entries) for entries in found)


# ---- sharing by stated amounts


def _by_amounts(ticket: Ticket, payers: Sequence[Payer], taxes: Sequence[TaxBill], total: int) -> _Shared:
    stated = [payer.amount for payer in payers]
    named = sum(amount for amount in stated if amount is not None)
    open_payers = stated.count(None)
    if open_payers > 1:
        raise Refused(Code.ONE_WITHOUT_AMOUNT, "/payers")
    if named > total or (not open_payers and named != total):
        raise Refused(Code.AMOUNTS_DO_NOT_ADD_UP, "/payers", total=total)
    totals = tuple(total - named if amount is None else amount for amount in stated)
    memo: list[list[tuple[str, int]]] = [[] for _ in payers]
    if ticket.tax_mode == TaxMode.INCLUSIVE and any(totals):
        for tax in taxes:
            parts = apportion(tax.tax, totals)
            for j, part in enumerate(parts):
                if tax.base and totals[j]:
                    memo[j].append((tax.id, part))
    return _Shared(totals, tuple(() for _ in payers), tuple(tuple(entries) for entries in memo))


# ---- tips and payments


def _accounts(ticket: Ticket, payers: Sequence[Payer], shared: _Shared) -> list[Account]:
    accounts = []
    for j, payer in enumerate(payers):
        bases = {"total": shared.totals[j]}
        if shared.nets:
            bases |= {"net": shared.nets[j], "gross": shared.grosses[j]}
        stated = sum(_stated(i, tip, bases) for i, tip in enumerate(ticket.tips) if tip.payer == payer.id)
        payments = [(p, pointer("payments", i)) for i, p in enumerate(ticket.payments) if p.payer == payer.id]
        accounts.append(settle_all(shared.totals[j], bounded(stated), payments, ticket.cash_rounding))
    return accounts


def _stated(index: int, tip: Tip, bases: dict[str, int]) -> int:
    return bounded(tip_amount(tip, bases), pointer("tips", index))
