"""A bank account is stored, collected from, and what it paid comes back: owed again, and first on Today."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, code_of, in_balance, killed_in_between, scanned, wren
from tests.stories.house import Running
from tests.stories.test_paying import FINDER
from tests.stories.test_table_settled import machine_tells

IBAN = "DE89 3704 0044 0532 0130 00"  # the example of the IBAN registry (ISO 13616)


@pytest.mark.acts
def test_what_a_bank_account_paid_comes_back(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.type(FINDER, "petra moe", enter=True)
    desk.touch("link", re.compile(r"^Petra Moe \(020\)"), check=False)
    desk.page.get_by_text("Store a bank account").click()
    desk.type("IBAN, or routing and account number", "DE89 3704")
    desk.page.get_by_label("They agree that we collect from it").check()
    desk.touch("button", "Let the payment service keep this account")
    desk.sees("That is no account's number")
    desk.type("IBAN, or routing and account number", IBAN)
    desk.touch("button", "Let the payment service keep this account")
    desk.sees("Petra Moe ••3000, mandate M-")
    assert "0532" not in desk.page.content()
    machine_tells(desk, "approved; a bank account's comes back", machine="payment service")
    desk.touch("button", "A sale for Petra", check=False)
    scanned(desk, code_of(running, "Sun hat"))
    desk.touch("link", re.compile("^Pay €22.00"), check=False)
    desk.touch("link", re.compile("^Bank account ••3000"))
    desk.touch("button", "Collect €22.00 from Bank account ••3000", check=False)
    desk.sees("Collected: bank account ending 3000")
    desk.touch("button", "Close the ticket", exact=True, check=False)
    killed_in_between(desk, running)
    desk.page.goto(running.url)
    desk.page.get_by_text("came back").first.wait_for(timeout=60_000)
    desk.sees("€22.00 collected from their bank came back")
    desk.page.wait_for_load_state()
    in_balance(running)
