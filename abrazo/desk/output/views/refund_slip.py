"""The slip of a refund, from what it gave back."""

from __future__ import annotations

from abrazo.core.states import RowKind, TaxMode
from abrazo.desk.context import House
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.formats.refund_slip import Pairs, RefundSlip
from abrazo.store import corrections
from abrazo.store.corrections import Refund
from abrazo.words import phrases as w


def refund_slip(house: House, whole: TicketSnapshot, refund: Refund) -> RefundSlip:
    """What the slip of a refund that is done says, in the language of the ticket's person where it is known."""
    house = house.speaking_to(house.person(whole.head.person) if whole.head.person else None)
    text, settings = house.settings.currency.text, house.settings
    on, of = (house.date_of(day) for day in (refund.day, whole.head.day))
    return RefundSlip(
        settings.name,
        settings.address,
        whole.head.number,
        paper_date(house, of),
        paper_date(house, on),
        house.hour(refund.at),
        house.staff()[refund.staff].name,
        _rows(house, whole, refund),
        text(refund.handed),
        refund.route,
        _taxes(house, refund, contained=True),
        refund.reason,
        house.reader.language,
    )


def _rows(house: House, whole: TicketSnapshot, refund: Refund) -> Pairs:
    text = house.settings.currency.text
    labels = {(RowKind.LINE, line.id): line.label for line in whole.lines}
    labels |= {(RowKind.CHARGE, charge.id): charge.label for charge in whole.charges}
    pieces = dict(corrections.pieces_of(house.connection, refund.id))
    found = []
    for kind, ref, amount in corrections.parts_of(house.connection, refund.id):
        many = pieces.get(ref, "1") if kind == RowKind.LINE else "1"
        label = labels.get((kind, ref), "")
        found.append((label if many == "1" else f"{many} x {label}", text(amount)))
    added = _taxes(house, refund, contained=False)
    tip = ((house.say(w.REFUND_OF_TIP), text(refund.tip)),) if refund.tip else ()
    rounding = ((house.say(w.CASH_ROUNDING), text(refund.rounding)),) if refund.rounding else ()
    return (*found, *added, *tip, *rounding)


def _taxes(house: House, refund: Refund, *, contained: bool) -> Pairs:
    """Taxes of what went back: those that prices contain, or those that are added to them."""
    if (house.settings.tax_mode == TaxMode.EXCLUSIVE) is contained:
        return ()
    names = {tax.id: tax.label or tax.id for tax in house.taxes()}
    say = (lambda name: house.say(w.TAX_CONTAINED, tax=name)) if contained else str
    text = house.settings.currency.text
    return tuple((say(names[tax]), text(amount)) for tax, _, amount in refund.taxes if tax is not None and amount)
