"""A ticket read whole: as it is kept, and as the core reckons it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from fractions import Fraction

from abrazo.core.bill import Bill, PayerBill
from abrazo.core.ledger import LineUse
from abrazo.core.money import total
from abrazo.core.reckon import reckon
from abrazo.core.sharing import Guest, Payer
from abrazo.core.states import AdjustmentKind, RequestKind, RowKind, Tender
from abrazo.core.tax import Tax, with_added_tax
from abrazo.core.tenders import Payment
from abrazo.core.ticket import Adjustment, Charge, Choice, Discount, Line, Settled, Ticket, discount_parts
from abrazo.core.tips import Tip
from abrazo.desk.context import House, NotFound
from abrazo.desk.tickets import at_rest
from abrazo.store import snapshots
from abrazo.store.adjustments import AppliedAdjustment
from abrazo.store.charges import ChargeRow
from abrazo.store.db import snapshot
from abrazo.store.guests import GuestRow
from abrazo.store.guests import PayerRow as PayerRow
from abrazo.store.lines import LineRow as LineRow
from abrazo.store.snapshots import TicketRows
from abrazo.store.tenders import CardRequest, PaymentRow
from abrazo.store.ticket import TicketRow

OF_THEIR_OWN = (AdjustmentKind.SURCHARGE, AdjustmentKind.BENEFIT, AdjustmentKind.SERIES)
LARGEST = 2**63  # what an id in SQLite can be


@dataclass(frozen=True, slots=True)
class TicketSnapshot:
    """Everything about one ticket at one moment."""

    head: TicketRow
    guests: list[GuestRow]
    payers: list[PayerRow]
    lines: list[LineRow]
    charges: list[ChargeRow]
    payments: list[PaymentRow]
    asks: list[CardRequest]
    ticket: Ticket
    bill: Bill
    given: list[AppliedAdjustment] = field(default_factory=list)  # discounts, comps and surcharges that stand

    def payer(self, payer: int) -> PayerRow:
        """A payer who takes part."""
        found = next((p for p in self.payers if p.id == payer), None)
        if found is None:
            raise NotFound(f"no payer {payer} on ticket {self.head.number}")
        return found

    def payer_bill(self, payer: int) -> PayerBill:
        """The reckoned bill of a payer."""
        return next(bill for bill in self.bill.payers if bill.id == str(payer))

    def line(self, line: int) -> LineRow:
        """A line that stands on the ticket."""
        found = next((ln for ln in self.standing if ln.id == line), None)
        if found is None:
            raise NotFound(f"no line {line} on ticket {self.head.number}")
        return found

    def core_line(self, line: int) -> Line:
        """A standing line as the reckoning has it."""
        return next(one for one in self.ticket.lines if one.id == str(line))

    @property
    def uses(self) -> dict[str, LineUse]:
        """What each standing line does in the books, by its id in the reckoning."""
        return {str(line.id): line.use for line in self.standing}

    @property
    def sold_from(self) -> str:
        """On which account without a customer it is sold; empty for somebody's ticket."""
        return self.head.anonymous_account if self.head.person is None else ""

    @property
    def tips(self) -> int:
        """All tips, in minor units."""
        return self.bill.tips

    @property
    def rounding(self) -> int:
        """What cash rounding came to, in minor units; positive: the house got more."""
        return self.bill.rounding

    @property
    def standing(self) -> list[LineRow]:
        """Lines that were not removed."""
        return [line for line in self.lines if line.removed_at is None]

    @property
    def taken(self) -> list[PaymentRow]:
        """Payments that were not taken back."""
        return [payment for payment in self.payments if payment.taken_back_at is None]

    def on_account(self, payer: int | None = None) -> int:
        """What of it, or of one payer's part, was put on an account, in minor units."""
        mine = (one for one in self.taken if payer is None or one.payer == payer)
        return total(one.given for one in mine if one.tender == Tender.ACCOUNT)

    @property
    def open_requests(self) -> list[CardRequest]:
        """Charges and refunds whose outcome is still to come, for which their payers wait."""
        return [ask for ask in self.asks if ask.blocks]

    def under_way(self, payer: int) -> int:
        """Minor units of what is due that a card machine may be charging this payer right now."""
        return total(
            a.of_due
            for a in self.open_requests
            if a.payer == payer and a.kind in (RequestKind.CHARGE, RequestKind.CAPTURE)
        )

    def guests_of(self, payer: int) -> list[GuestRow]:
        """The guests a payer stands for."""
        return [guest for guest in self.guests if guest.payer == payer]

    def taken_off(self, line: int) -> list[AppliedAdjustment]:
        """What was given on a line, and the ticket discounts that took something off it; charges are not among them."""
        here = [one for one in self.given if one.line == line]
        index = next(i for i, one in enumerate(self.ticket.lines) if one.id == str(line))
        return here + [one for one, cuts in self._cuts() if cuts[index]]

    @property
    def discounts(self) -> list[tuple[AppliedAdjustment, int]]:
        """The discounts on the whole ticket, and what each takes off, in minor units."""
        return [(one, total(cuts)) for one, cuts in self._cuts()]

    def _cuts(self) -> list[tuple[AppliedAdjustment, list[int]]]:
        """The discounts on the whole ticket, and what each takes off every standing line."""
        on_ticket = [one for one, discount in _discounts(self.given, self.lines)]
        owns = [bill.own for bill in self.bill.lines]
        return list(zip(on_ticket, discount_parts(self.ticket.lines, owns, self.ticket.discounts), strict=True))

    @property
    def at_table(self) -> bool:
        """Whether it is its table's ticket: one that was opened again or made void stands under its number."""
        return self.head.spot is not None and self.head.reopened_at is None and self.head.voided_at is None

    @property
    def shared(self) -> bool:
        """Whether more than one payer takes part."""
        return len(self.payers) > 1


def load_tickets(house: House, ids: Iterable[int]) -> dict[int, TicketSnapshot]:
    """Read and reckon any number of tickets in a fixed number of statements, by id; in the order of `ids`.

    A page reads a ticket once; inside an act it is read anew every time. Those that are not there are left out.
    """
    found = house.each_once("ticket", (id for id in ids if 0 < id < LARGEST), lambda missing: _read(house, missing))
    whole = {id: one for id, one in found.items() if one is not None}
    house.keep("head", {id: one.head for id, one in whole.items()})
    return whole


def _read(house: House, ids: list[int]) -> dict[int, TicketSnapshot]:
    if house.memo is None or house.connection.in_transaction:
        return _read_anew(house, ids)
    with snapshot(house.connection):  # all rows of one moment
        return tickets_at_rest(house, ids)


def tickets_at_rest(house: House, ids: Iterable[int]) -> dict[int, TicketSnapshot]:
    """Tickets for pages, by id, inside a transaction; one that has not changed is not reckoned again."""
    states = at_rest.states_of(house, ids)
    found = at_rest.recalled(house, states)
    missing = {id: (state[0], state[2]) for id, state in states.items() if id not in found}
    fresh = _read_anew(house, list(missing), missing)
    at_rest.remember(house, states, fresh)
    return found | fresh


def _read_anew(house: House, ids: list[int], known: snapshots.Known | None = None) -> dict[int, TicketSnapshot]:
    if not ids:
        return {}
    rows, taxes = snapshots.read_rows(house.connection, ids, known), house.taxes()
    return {id: _snapshot(house, rows[id], taxes) for id in rows}


def load_ticket(house: House, ticket_id: int, *, deposits: bool = True) -> TicketSnapshot:
    """Read and reckon a ticket; without `deposits` as if none had been applied."""
    if deposits:
        whole = load_tickets(house, [ticket_id]).get(ticket_id)
        if whole is None:
            raise NotFound(f"no ticket {ticket_id}")
        return whole
    rows = snapshots.read_rows(house.connection, [ticket_id])[ticket_id]
    rows.payments = [payment for payment in rows.payments if payment.tender != Tender.DEPOSIT]
    return _snapshot(house, rows, house.taxes())


def _snapshot(house: House, rows: TicketRows, taxes: tuple[Tax, ...]) -> TicketSnapshot:
    head, guests, payers, lines, given, payments = (
        rows.head, rows.guests, rows.payers, rows.lines, rows.given, rows.payments
    )  # fmt: skip
    settled = {str(p.id): _settled(rows.kept.get(p.id, {})) for p in payers if p.settled_at}
    ticket = Ticket(
        currency=house.settings.currency,
        tax_mode=house.settings.tax_mode,
        cash_rounding=house.settings.cash_rounding,
        taxes=taxes,
        guests=tuple(Guest(str(g.id), g.name or g.letter) for g in guests),
        staff=head.staff,
        tips_to=head.tips_to,
        lines=tuple(_line(line, given) for line in lines if line.removed_at is None),
        discounts=tuple(discount for _, discount in _discounts(given, lines)),
        charges=tuple(
            Charge(
                str(c.id),
                percent=None if c.amount is not None else Fraction(c.percent),
                amount=c.amount,
                label=c.label,
                tax=c.tax,
                share=c.share,
            )
            for c in rows.charges
        ),
        split=head.split,
        payers=tuple(Payer(str(p.id), tuple(str(g.id) for g in guests if g.payer == p.id)) for p in payers),
        tips=tuple(_tip(p) for p in payers if p.tip_percent or p.tip_amount),
        payments=tuple(
            Payment(str(p.payer), p.tender, p.amount, p.tip, p.tendered, p.extra)
            for p in payments
            if p.taken_back_at is None
        ),
        settled=settled,
        stated={str(p.id): p.stated for p in payers if p.stated},
        fees={str(p.id): p.fees for p in payers if p.fees},
        untipped=frozenset(str(line.id) for line in lines if line.removed_at is None and not line.sells),
    )
    last = at_rest.last(house, head.id)
    bill = last.bill if last is not None and last.ticket == ticket else reckon(ticket)
    return TicketSnapshot(head, guests, payers, lines, rows.charges, payments, rows.requests, ticket, bill, given)


def _line(line: LineRow, given: list[AppliedAdjustment]) -> Line:
    return Line(
        id=str(line.id),
        unit_price=line.unit_price,
        quantity=Fraction(line.quantity),
        label=line.label,
        tax=line.tax,
        staff=line.staff,
        choices=tuple(Choice(price, 1, label) for label, price in line.choices),
        adjustments=tuple(_adjustment(one) for one in given if one.line == line.id),
        shares=tuple((str(guest), weight) for guest, weight in line.shares),
        discountable=line.sells,
    )


def _adjustment(given: AppliedAdjustment) -> Adjustment:
    kind = given.kind if given.kind in OF_THEIR_OWN else AdjustmentKind.DISCOUNT
    return Adjustment(kind, _percent(given), given.amount, given.reason, given.free)


def _percent(given: AppliedAdjustment) -> Fraction | None:
    return None if given.percent is None else Fraction(given.percent)


def _discounts(given: list[AppliedAdjustment], lines: list[LineRow]) -> Iterator[tuple[AppliedAdjustment, Discount]]:
    """Discounts on the whole ticket; one from which lines were taken off lists those that it still reaches."""
    for one in given:
        if one.line is not None:
            continue
        reached = [str(line.id) for line in lines if line.removed_at is None and line.id not in one.off]
        if reached or not one.off:
            stack = "all" if one.kind == AdjustmentKind.COMP else "one"
            yield (
                one,
                Discount(_percent(one), one.amount, one.reason, tuple(reached) if one.off else (), stack, one.free),
            )


def _tip(payer: PayerRow) -> Tip:
    if payer.tip_percent:
        return Tip(str(payer.id), percent=Fraction(payer.tip_percent))
    return Tip(str(payer.id), amount=payer.tip_amount)


def _settled(cells: dict[tuple[RowKind, str], int]) -> Settled:
    return Settled(
        cells={(kind, ref): amount for (kind, ref), amount in cells.items() if kind != RowKind.MEMO},
        memo={ref: amount for (kind, ref), amount in cells.items() if kind == RowKind.MEMO},
    )


def kept_cells(bill: PayerBill) -> dict[tuple[RowKind, str], int]:
    """What to keep of a payer's bill when it is settled."""
    cells = {(row.kind, row.ref): row.amount for row in bill.rows}
    return cells | {(RowKind.MEMO, tax): amount for tax, amount in bill.taxes}


def lines_come_to(whole: TicketSnapshot, lines: Iterable[LineRow]) -> int:
    """What some lines of a ticket come to, in minor units, with the tax that is added to them."""
    nets = {bill.id: bill.net for bill in whole.bill.lines}
    return with_added_tax(((line.tax, nets[str(line.id)]) for line in lines), whole.ticket.taxes, whole.ticket.tax_mode)
