"""In the field, on a phone: a plain amount, in cash."""

from __future__ import annotations

import pytest

from tests.stories.desk import MakeClerk, in_balance, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_a_plain_amount_in_few_acts(clerk: MakeClerk, running: Running) -> None:
    """Four acts: the amount begun, typed, to pay, the note; the tax it has is seen and can be changed."""
    desk = wren(clerk, width=390, height=844)
    desk.touch("button", "Amount")
    desk.sees("Unlisted item")
    assert desk.page.get_by_label("What it is", exact=True).input_value() == "Amount"
    assert desk.page.evaluate("document.activeElement.id") == "unlisted-price"
    desk.type("Price", "17.40", enter=True)
    desk.touch("link", "Pay €17.40")
    desk.touch("button", "€20.00 €2.60 back")
    desk.counted("in the field: plain amount, cash", 5)
    in_balance(running)
