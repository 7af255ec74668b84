"""Every page of the demo at many widths: nothing scrolls sideways, no fault, no accessibility violation."""

from __future__ import annotations

from typing import Any

import pytest

from tests.stories.conftest import Clerk
from tests.web.demo_pages import every_page


class _Reading:
    """Pages as text, read with a clerk's own session."""

    def __init__(self, clerk: Clerk) -> None:
        self.clerk = clerk

    def get(self, path: str) -> Any:
        answer = self.clerk.page.request.get(self.clerk.running.url + path)
        return type("Answer", (), {"text": answer.text()})


@pytest.mark.parametrize("width", [360, 390, 600, 768, 1024, 1280, 1920])
def test_every_page_fits(clerk: Any, width: int) -> None:
    desk = clerk(width, 844 if width < 600 else 800)
    desk.sign_in("odile", "4071")
    wrong = {}
    for path in every_page(_Reading(desk)):  # type: ignore[arg-type]  # reads pages as the test client does
        desk.page.goto(desk.running.url + path)
        desk.settle()
        try:
            desk.check()
        except AssertionError as fault:
            wrong[path] = str(fault)[:400]
            desk.faults.clear()
    assert wrong == {}
