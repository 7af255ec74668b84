"""A payer's tip: a percent, an amount, or none."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.journal import Kind
from abrazo.core.money import read_decimal
from abrazo.core.states import TipsTo
from abrazo.desk.context import Actor, House
from abrazo.desk.setup.house_settings import decide
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.formats.typed_amount import read_amount
from abrazo.store import guests as guests_kept

OFFERED = ("5", "10", "15")


def tips_to(house: House) -> str:
    """Whose the tips of new tickets are: staff (those who served) or pool."""
    return house.settings.tips_to


def share_tips(house: House, actor: Actor, to: str) -> None:
    """Tips of tickets that are opened from now on go to those who served, or to a pool. A supervisor's right."""
    chosen(TipsTo, to, Code.NO_TIP_RULE, "tips_to")
    decide(house, actor, "tips_to", to)


@dataclass(frozen=True, slots=True)
class TipWanted:
    """A payer's tip as typed: a percent, an amount, or none. `sure`: the amount that was asked about before."""

    percent: str = ""
    amount: str = ""
    sure: str = ""


def check_tip(bill: int, tip: int, where: str, *, sure: bool) -> None:
    """Refused once, to be asked about, when a tip is above the bill it is given on; minor units."""
    if tip > bill and not sure:
        raise Refused(Code.TIP_ABOVE_BILL, where, tip=tip, bill=bill)


def set_tip(house: House, actor: Actor, on: OnTicket, payer_id: int, wanted: TipWanted) -> None:
    """Set a payer's tip; both empty means none."""
    percent, amount = wanted.percent, wanted.amount
    with changing(house, actor, on) as edit:
        payer = edit.whole.payer(payer_id)
        if payer.settled_at:
            raise Refused(Code.TIP_SETTLED, payer=payer.letter)
        if percent:
            value, decimals = read_decimal(percent, "tip")
            if decimals > 2 or not 0 < value <= 100:
                raise Refused(Code.TIP_PERCENT, "tip")
            guests_kept.set_tip(house.connection, payer_id, percent, None)
            edit.wrote(Kind.TIP_SET, payer=payer.letter, percent=percent)
        elif amount:
            tip = read_amount(house.settings.currency, amount, "tip")
            if tip < 0:
                raise Refused(Code.TIP_NEGATIVE, "tip")
            check_tip(edit.whole.payer_bill(payer_id).account.total, tip, "tip", sure=wanted.sure == amount)
            guests_kept.set_tip(house.connection, payer_id, None, tip or None)
            edit.wrote(Kind.TIP_SET, payer=payer.letter, amount=tip)
        else:
            guests_kept.set_tip(house.connection, payer_id, None, None)
            edit.wrote(Kind.TIP_SET, payer=payer.letter)
