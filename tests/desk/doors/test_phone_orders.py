"""Orders by phone: what is missing is named beside its field; what is said is kept."""

from __future__ import annotations

from dataclasses import replace

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.doors import phone_orders
from abrazo.desk.doors.phone_orders import OrderForm
from abrazo.desk.output import outbox
from abrazo.desk.tickets import prep, ticket_lines
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.prep import queue_of
from tests.desk.conftest import Desk
from tests.desk.payments.test_stored_value import visit
from tests.refusals import refuses

SAID = OrderForm("Ines Quill", "delivery", "Ines, Bo,  Cai ,Dunya", "020 910 0144", "3 Net Loft Row", "blue door",
                 "18:30", 400)  # fmt: skip


def test_an_order_names_its_guests_and_shares_its_fee_evenly(desk: Desk) -> None:
    number = phone_orders.take_order_as_said(desk.house, desk.tamsin, SAID, "one key, pressed twice")
    assert phone_orders.take_order_as_said(desk.house, desk.tamsin, SAID, "one key, pressed twice") == number
    whole, how = desk.whole(number), phone_orders.order_of(desk.house, number)
    assert [guest.name for guest in whole.guests] == ["Ines", "Bo", "Cai", "Dunya"]
    assert (whole.head.source, whole.head.promised_at, whole.bill.total) == ("phone", "2026-06-13T18:30:00", 400)
    assert how is not None and (how.way, how.address, how.phone) == ("delivery", "3 Net Loft Row", "(020) 910 0144")


def test_the_kitchen_is_told_when_an_order_was_promised_for(desk: Desk) -> None:
    number = phone_orders.take_order_as_said(desk.house, desk.tamsin, SAID, desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, desk.on(number), Picked("clam-and-leek-pot"))
    prep.send(desk.house, desk.tamsin, desk.on(number), ())
    (card,) = queue_of(desk.house, "kitchen").cards
    assert (card.spot, card.about) == ("Ines Quill", "promised 18:30, delivery: 3 Net Loft Row")
    outbox.send_waiting(desk.house)
    paper = " ".join((desk.folder / "house-paper.txt").read_text("utf-8").split())
    assert "promised 18:30" in paper and "3 Net Loft Row" in paper


def test_fetched_there_is_no_fee_and_the_time_may_be_left_out(desk: Desk) -> None:
    number = phone_orders.take_order_as_said(
        desk.house, desk.tamsin, replace(SAID, way="pick-up", promised=""), desk.key()
    )
    assert (desk.whole(number).bill.total, desk.whole(number).head.promised_at) == (0, "2026-06-13T14:50:00")


def test_a_time_that_has_passed_is_tomorrow(desk: Desk) -> None:
    number = phone_orders.take_order_as_said(desk.house, desk.tamsin, replace(SAID, promised="1115"), desk.key())
    assert desk.whole(number).head.promised_at == "2026-06-14T11:15:00"


@pytest.mark.parametrize(
    ("wrong", "where"),
    [
        ({"name": " "}, "name"),
        ({"way": "drone"}, "way"),
        ({"phone": ""}, "phone"),
        ({"phone": "blue door"}, "phone"),
        ({"address": ""}, "address"),
        ({"directions": "x" * 201}, "directions"),
        ({"guests": ", ".join("ab" for _ in range(21))}, "guests"),
        ({"guests": "Bo, " + "x" * 81}, "guests"),
        ({"promised": "soon"}, "promised"),
        ({"fee": -1}, "fee"),
        ({"promised": "25:00"}, "promised"),
    ],
)
def test_what_is_missing_or_wrong_is_named(desk: Desk, wrong: dict[str, str | int], where: str) -> None:
    with pytest.raises(Refused) as refused:
        phone_orders.take_order_as_said(desk.house, desk.tamsin, replace(SAID, **wrong), desk.key())  # type: ignore[arg-type]  # facts by field name
    assert refused.value.where == where


def test_a_sale_becomes_an_order(desk: Desk) -> None:
    number, _, _ = visit(desk, 20)
    due = desk.whole(number).bill.due
    with refuses("A delivery needs a phone number"):
        phone_orders.become_order(desk.house, desk.tamsin, desk.on(number), replace(SAID, phone="", way="delivery"))
    on = desk.on(number)
    for _ in range(2):
        phone_orders.become_order(desk.house, desk.tamsin, on, replace(SAID, way="delivery", address="Quay 3", fee=400))
    whole, how = desk.whole(number), phone_orders.order_of(desk.house, number)
    assert (whole.head.source, whole.head.name, whole.bill.due) == ("phone", SAID.name, due + 400)
    assert how is not None and (how.way, how.address) == ("delivery", "Quay 3")
    with refuses("Only a counter sale"):
        phone_orders.become_order(desk.house, desk.tamsin, desk.on(number), SAID)
