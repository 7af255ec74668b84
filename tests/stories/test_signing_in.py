"""Signing in: digits go to the PIN whatever was touched last; where somebody worked last is chosen."""

from __future__ import annotations

from tests.stories.desk import MakeClerk
from tests.stories.house import Running


def test_digits_are_the_pin_whatever_was_touched_last(clerk: MakeClerk, running: Running) -> None:
    one = clerk()
    one.page.goto(f"{running.url}/sign-in")
    one.touch("link", "Wren")
    assert one.page.get_by_role("radio", name="Landing").is_checked()  # where Wren works
    one.page.get_by_role("radio", name="Galley").check()
    one.page.keyboard.type("5512")
    one.page.wait_for_url(f"{running.url}/")
    one.sees("Wren, till Galley")
    one.touch("button", "Lock", check=False)
    one.touch("link", "Odile")
    assert one.page.get_by_role("radio", name="Galley").is_checked()  # the screen stands there
    one.page.get_by_role("button", name="4", exact=True).click()
    one.page.keyboard.type("07118")
    one.page.wait_for_url(f"{running.url}/")
    one.check()
