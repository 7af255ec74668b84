"""Tips paid out in cash: never more than what is owed to somebody, nor than the drawer holds; by right, own or lent."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked
from abrazo.core.journal import Kind
from abrazo.core.ledger import tips_account, tips_paid_postings
from abrazo.core.money import total
from abrazo.core.states import TipsTo
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right
from abrazo.desk.till import drawer
from abrazo.desk.till.petty_cash import must_be_there
from abrazo.store import journal, till
from abrazo.store.till import TipPaid
from abrazo.words import phrases as w

POOL = TipsTo.POOL


def owed_tips(house: House) -> list[tuple[str, str, int]]:
    """Whose tips are not paid out yet: (id, name, minor units); `pool` is everybody's."""
    people = {one.id: one.name for one in house.staff().values()} | {POOL: house.say(w.TIP_POOL)}
    balances = journal.balances_of(house.connection, map(tips_account, people))
    owed = [(id, name, total((0, -balances.get(tips_account(id), 0)))) for id, name in people.items()]
    return [one for one in owed if one[2] > 0]


def pay_tips(house: House, actor: Actor, person: str, amount: int, key: str) -> None:
    """Pay out tips of somebody from this till's drawer; minor units."""
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    with acting(house, actor, "tips paid", key, person, Right.PAY_TIPS) as act:
        if act.done is not None:
            return
        owed = {id: left for id, _, left in owed_tips(house)}.get(person, 0)
        if amount > owed:
            raise Refused(Code.MORE_THAN_TIPS, "amount", owed=owed)
        must_be_there(house, actor.till.id, amount)
        drawer.moved(house, actor.till.id, 0, amount)
        till.add_tip_paid(act.connection, act.day, TipPaid(actor.till.id, actor.staff.id, act.at, person, amount))
        booked = Booked(tips_paid_postings(actor.till.id, person, amount))
        act.record(Kind.TIPS_PAID, None, booked, person=person, amount=amount, lender=act.by)
