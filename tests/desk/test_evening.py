"""Random evenings over every route, with corrections after closing, against what the devices say by themselves.

Whatever is paid, fails, is killed, tried again, undone, refunded or made void: at the end the money that machines and
service moved is what the books say, the drawers hold what the books say, and what is owed to holders of gift cards and
store credit is what is on them.
"""

from __future__ import annotations

import random
import shutil
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.core.journal import chain_faults
from abrazo.core.states import Extra
from abrazo.core.tenders import cash_due
from abrazo.desk.context import NotFound, Stale
from abrazo.desk.payments import accounts, cards, closing, refunds, reopening, tenders
from abrazo.desk.payments.tenders import Sum
from abrazo.desk.tickets import sharing, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till.views.matching import match_day
from abrazo.store import journal, stored_value
from tests.conftest import TIMES
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_corrections import odile
from tests.desk.payments.test_stored_value import CARD, sold, spend, visit

FAULTS = ["approve"] * 4 + ["decline", "cancel", "part", "silent, charged", "silent, not charged", "answer lost"]
FAULTS += ["duplicate", "signature"]
ACTS = ["cash", "over", "card", "keyed", "gift card", "store credit", "record", "slip", "back", "close", "close"]
ACTS += ["over", "store credit", "close", "close", "reopen", "reopen", "void", "refund"]
ACTS += ["reopen", "void", "refund", "refund", "die", "follow", "ask"]
ACTS += ["stated", "stated", "unshare", "more", "fewer", "account"]


@given(
    st.lists(st.tuples(st.sampled_from(ACTS), st.sampled_from(FAULTS)), min_size=6, max_size=30), st.integers(0, 9999)
)
@settings(max_examples=30 * TIMES, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
def test_money_moved_is_what_the_books_say(
    founded: Path, tmp_path: Path, acts: list[tuple[str, str]], seed: int
) -> None:
    shutil.rmtree(tmp_path / "house", ignore_errors=True)
    shutil.copytree(founded, tmp_path / "house")
    desk, chance = Desk(tmp_path / "house"), random.Random(seed)
    code = sold(desk, amount=1500)
    first, _, who = visit(desk, 2)
    desk.house.connection.execute("UPDATE person SET account = 1")
    tickets = [first, visit(desk, 1, who)[0]]
    for name, fault in acts:
        number = chance.choice(tickets)
        desk.tell(fault, chance.choice([0, 10]))
        try:
            _act(desk, number, name, code, chance)
        except (Refused, Stale, NotFound):
            pass  # a refusal changes nothing; the checks below hold all the same
        if chance.random() < 0.7:
            desk.follow()
        assert journal.unbalanced(desk.house.connection) == []
        holds(desk)
        assert chain_faults(journal.chain(desk.house.connection)) == []
    for _ in range(4):  # until nothing is open any more, and voids have come to their end
        for number in tickets:
            desk.settle_unknown(number)
            if desk.whole(number).head.voiding_at:
                with suppress(Refused):  # credit that came of it was spent while a machine was still asked
                    reopening.go_on_voiding(desk.house, odile(desk), number)
        desk.follow()
    _in_balance(desk, who, code)
    desk.house.connection.close()


def _in_balance(desk: Desk, who: int, code: str) -> None:
    connection = desk.house.connection
    assert desk.charged() == desk.balance("assets:card")
    assert desk.balance("") == 0
    card, credit = stored_value.by_code(connection, code), stored_value.credit_of(connection, who)
    assert card is not None
    assert stored_value.balance(connection, card.id) == -desk.balance("liabilities:gift-cards")
    on_credit = stored_value.balance(connection, credit.id) if credit else 0
    assert on_credit == -desk.balance("liabilities:store-credit")
    matched = match_day(desk.house, desk.house.day().id)
    assert [one for route in matched.routes for one in route.mismatches if one.remedy != "correct"] == []


def _act(desk: Desk, number: int, name: str, code: str, chance: random.Random) -> None:
    whole, house, actor = desk.whole(number), desk.house, odile(desk)
    version, payer = whole.head.version, chance.choice(whole.payers).id
    due = whole.payer_bill(payer).account.due
    part = chance.choice([due, max(5, due // 2)])
    some = chance.choice(whole.payments).id if whole.payments else 0

    def cash(amount: int, extra: Extra | None = None) -> object:
        return tenders.take_cash(
            house, actor, OnTicket(number, version, desk.key()), payer, tenders.Sum(amount, extra), amount + 50
        )

    def keyed() -> object:
        desk.clock.on(60)
        return cards.charge_keyed(house, actor, OnTicket(number, version, desk.key()), payer, CARD, Sum(part))

    def refund() -> object:
        left = refunds.left_on(house, whole)
        payment = chance.choice(sorted(left)) if left else 0
        amount = chance.choice([left.get(payment, 0), max(1, left.get(payment, 0) // 3)])
        lines = [chance.choice(whole.standing).id] if whole.standing and chance.random() < 0.5 else []
        refunds.refund(
            house, actor, OnTicket(number, None, desk.key()), refunds.RefundWanted(payment, amount, lines), "cold"
        )
        return None

    does: dict[str, Callable[[], object]] = {
        "cash": lambda: cash(cash_due(due, 5) if part == due else part),
        "over": lambda: cash(due + 100, chance.choice(list(Extra))),
        "card": lambda: tenders.ask_card(
            house, actor, OnTicket(number, version, desk.key()), payer, MACHINE, tenders.Sum(part)
        ),
        "keyed": keyed,
        "gift card": lambda: spend(desk, number, payer, "gift card", part, code),
        "store credit": lambda: spend(desk, number, payer, "store credit", part),
        "record": lambda: tenders.record(
            house, actor, OnTicket(number, version, desk.key()), payer, tenders.Recorded(part, "cheque", "12")
        ),
        "slip": lambda: tenders.add_tip(house, actor, OnTicket(number, version, desk.key()), some, 150),
        "back": lambda: tenders.take_back(house, actor, OnTicket(number, version, desk.key()), some),
        "close": lambda: closing.free_table(house, actor, OnTicket(number, None, desk.key())),
        "stated": lambda: sharing.state_amount(
            house, actor, OnTicket(number, version), chance.randint(0, 2000), chance.choice([0, payer])
        ),
        "unshare": lambda: sharing.undo(house, actor, OnTicket(number, version)),
        "more": lambda: ticket_lines.add_line(
            house, actor, OnTicket(number, version, desk.key()), Picked("lemon-posset")
        ),
        "fewer": lambda: ticket_lines.remove_line(house, actor, OnTicket(number, version), whole.lines[-1].id),
        "account": lambda: accounts.put_on_account(
            house, actor, OnTicket(number, version, desk.key()), payer, accounts.Leave(part)
        ),
        "reopen": lambda: reopening.reopen(house, actor, OnTicket(number, None, desk.key()), "wrong"),
        "void": lambda: reopening.void(house, actor, OnTicket(number, None, desk.key()), "wrong"),
        "refund": refund,
        "die": desk.die,
        "follow": desk.follow,
        "ask": lambda: desk.settle_unknown(number),
    }
    does[name]()
