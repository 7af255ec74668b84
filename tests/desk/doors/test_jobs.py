"""Jobs and their deposits: whatever happens to the ticket, a deposit is applied once, at most the bill, and is never lost."""

from __future__ import annotations

import random
import shutil
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.desk.doors import jobs
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.doors.views.jobs import tasks_offered, to_do
from abrazo.desk.output import outbox
from abrazo.desk.payments import deposits, tenders
from abrazo.desk.setup import goods
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import deposits as deposits_store
from abrazo.store import journal
from tests.desk.conftest import Desk
from tests.desk.scenes import dropped, pay, person, thing, wren
from tests.refusals import refuses


def held(desk: Desk, job: int) -> int:
    return sum(deposit.amount for deposit in deposits_store.held(desk.house.connection, job))


def test_what_can_be_done_lies_in_categories_of_tasks(both: Desk) -> None:
    offered = {one.id for one in tasks_offered(both.house)}
    assert both.of.task in offered
    assert not offered & {both.of.goods, both.of.food}
    tasks = {row["id"] for row in both.house.connection.execute("SELECT id FROM category WHERE tasks = 1")}
    values = goods.CATEGORIES.load(both.house)
    assert {ref for ref, row in values.items() if row["tasks"]} == tasks


def test_a_drop_off_sent_twice_is_one_job(desk: Desk) -> None:
    who = person(desk)
    assert dropped(desk, who, 2000, key="the same key") == dropped(desk, who, 2000, key="the same key")
    assert desk.house.connection.execute("SELECT count(*) FROM job").fetchone()[0] == 1
    assert desk.balance("liabilities:deposits") == -2000


@pytest.mark.parametrize(
    ("changes", "where"),
    [({"thing": " "}, "thing"), ({"tasks": ()}, "tasks"), ({"time": "11:00"}, "due"), ({"time": "25:00"}, "due"), ({"deposit": 4201}, "deposit"),
     ({"tasks": (("off-cuts-of-sailcloth", "1.2345", ""),)}, "quantity-off-cuts-of-sailcloth"), ({"thing": "x" * 61}, "thing")],
)  # fmt: skip
def test_bad_input_is_named_and_nothing_is_kept(desk: Desk, changes: dict[str, object], where: str) -> None:
    facts: dict[str, object] = {"person": person(desk), "thing": "Drysuit", "tasks": (("wrist-seals", "1", ""),)}
    facts |= {"date": "2026-06-13", "time": "17:00"} | changes
    with pytest.raises(Refused) as refusal:
        jobs.drop_off(desk.house, wren(desk), DropOff(**facts), None, desk.key())  # type: ignore[arg-type]  # facts by field name
    assert refusal.value.where == where
    assert desk.house.connection.execute("SELECT count(*) FROM job").fetchone()[0] == 0


def test_a_deposit_larger_than_the_bill(desk: Desk) -> None:
    job, _ = dropped(desk, person(desk), 5000)  # of 42.00
    number = jobs.settle(desk.house, wren(desk), [job], desk.key())
    assert (desk.whole(number).bill.due, held(desk, job)) == (0, 800)
    assert {deposits.give_back(desk.house, wren(desk), thing(desk, job), "once") for _ in range(3)} == {800}
    with refuses("Nothing is left"):
        deposits.give_back(desk.house, wren(desk), thing(desk, job), desk.key())
    pay(desk, number)
    assert (desk.balance("liabilities:tax"), desk.cash("landing")) == (-700, 4200)  # VAT of 42.00
    assert (desk.balance("liabilities"), desk.balance("liabilities:points")) == (
        -910,
        -210,
    )  # 42 points, 100 of them worth 5.00


def test_a_deposit_is_not_given_back_before_the_job_is_paid(desk: Desk) -> None:
    job, _ = dropped(desk, person(desk), 2000)
    with refuses("not settled yet"):
        deposits.give_back(desk.house, wren(desk), thing(desk, job), desk.key())
    with refuses("last piece"):
        jobs.hand_out(desk.house, wren(desk), job, None, "", desk.key())
    number = jobs.settle(desk.house, wren(desk), [job], desk.key())
    deposit = desk.whole(number).payments[0].id
    with refuses("comes off its bill"):
        tenders.take_back(desk.house, wren(desk), desk.on(number), deposit)


def test_ready_sends_one_message_and_waits_for_the_line(desk: Desk) -> None:
    job, _ = dropped(desk, person(desk), 2000)
    desk.house.devices.post.line_down = True
    for _ in range(2):
        jobs.mark(desk.house, wren(desk), job, "ready", "the same")
    outbox.send_waiting(desk.house)
    assert desk.house.devices.post.delivered() == []
    desk.house.devices.post.line_down = False
    outbox.send_waiting(desk.house)
    (message,) = desk.house.devices.post.delivered()
    assert "To pay: €22.00" in message["body"] and message["to"].startswith("+353209100")


@pytest.mark.parametrize("seed", range(3))
def test_deposits_through_any_changes(desk: Desk, seed: int) -> None:
    through_any_changes(desk, random.Random(seed), 14)


def test_the_workshop_sees_what_is_to_do_first_due_first(desk: Desk) -> None:
    who = person(desk)
    (first, _), (second, _) = dropped(desk, who, 0), dropped(desk, who, 0)
    desk.house.connection.execute("UPDATE job SET due_at = '2026-06-13T15:00:00' WHERE id = ?", (second,))
    assert [card.job.id for card in to_do(desk.house)] == [second, first]
    jobs.mark(desk.house, wren(desk), second, "in work", desk.key())
    assert [card.state for card in to_do(desk.house)] == ["in work", "waiting"]
    jobs.mark(desk.house, wren(desk), second, "ready", desk.key())
    assert [card.job.id for card in to_do(desk.house)] == [first]


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.randoms(use_true_random=False))
def test_deposits_through_many_more_changes(founded: Path, tmp_path: Path, chance: random.Random) -> None:
    folder = tmp_path / "one"
    shutil.rmtree(folder, ignore_errors=True)
    shutil.copytree(founded, folder)
    desk = Desk(folder)
    try:
        through_any_changes(desk, chance, 10)
    finally:
        desk.house.connection.close()


def through_any_changes(desk: Desk, chance: random.Random, steps: int) -> None:
    """Jobs onto a ticket and off it, goods added and removed, money in between: deposits always add up."""
    clerk, who = wren(desk), person(desk)
    taken = {
        dropped(desk, who, amount)[0]: amount for amount in (chance.choice([0, 1500, 2000, 5000]) for _ in range(2))
    }
    number = starting.open_counter(desk.house, clerk, desk.key())
    for _ in range(steps):
        whole = desk.whole(number)
        if whole.head.state != "open":
            break
        act = chance.choice(["job", "goods", "remove", "part", "remove"])
        try:
            if act == "job":
                jobs.add_to_ticket(
                    desk.house, clerk, OnTicket(number, whole.head.version, desk.key()), chance.choice(list(taken))
                )
            elif act == "goods":
                ticket_lines.add_line(
                    desk.house,
                    clerk,
                    OnTicket(number, None, desk.key()),
                    Picked(chance.choice(["sun-hat", "kelp-soap"])),
                )
            elif act == "remove" and whole.standing:
                ticket_lines.remove_line(
                    desk.house, clerk, OnTicket(number, whole.head.version), chance.choice(whole.standing).id
                )
            elif act == "part" and whole.bill.due > 500:
                tenders.take_cash(
                    desk.house,
                    clerk,
                    OnTicket(number, whole.head.version, desk.key()),
                    whole.payers[0].id,
                    tenders.Sum(500),
                    500,
                )
        except Refused:
            pass
        whole = desk.whole(number)
        used = {
            job: sum(p.amount for p in whole.taken if p.route.endswith(jobs.read_job(desk.house, job).name))
            for job in taken
        }
        for job, amount in taken.items():
            on_ticket = any(line.job == job for line in whole.standing)
            assert used[job] + held(desk, job) == amount
            assert on_ticket or used[job] == 0
        assert whole.bill.due >= 0
        if whole.bill.due:  # nothing is left unused while something is owed
            assert all(held(desk, job) == 0 for job in taken if any(line.job == job for line in whole.standing))
        assert -journal.balance(desk.house.connection, "liabilities:deposits") == sum(taken.values()) - sum(
            used.values()
        )
        assert desk.balance("") == 0
