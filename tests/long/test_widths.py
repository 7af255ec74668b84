"""Every page of the demo at many widths: nothing scrolls sideways, no sum is broken or cut, no fault, no violation."""

from __future__ import annotations

from typing import Any

import pytest

from tests.stories.conftest import Clerk
from tests.web.demo_pages import every_page

SUMS = """() => {
  const wrong = [], texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = texts.nextNode(); node; node = texts.nextNode()) {
    if (node.parentElement.closest(".is-sr-only")) continue; // read out, not seen
    for (const found of node.data.matchAll(/[€$][0-9][0-9,.]*/g)) {
      const range = document.createRange();
      range.setStart(node, found.index);
      range.setEnd(node, found.index + found[0].length);
      const boxes = [...range.getClientRects()].filter((box) => box.width);
      if (!boxes.length || !node.parentElement.checkVisibility()) continue;
      if (new Set(boxes.map((box) => Math.round(box.top))).size > 1) wrong.push(`${found[0]} is broken`);
      for (let one = node.parentElement; one; one = one.parentElement) {
        const hides = getComputedStyle(one).overflowX === "hidden" && !one.matches(".is-sr-only");
        if (hides && boxes.some((box) => box.right > one.getBoundingClientRect().right + 1)) {
          wrong.push(`${found[0]} is cut`);
        }
      }
    }
  }
  return wrong;
}"""  # sums of money that stand in two lines, or behind an edge


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
    desk.sign_in("odile", "407118")
    wrong = {}
    for path in every_page(_Reading(desk)):  # type: ignore[arg-type]  # reads pages as the test client does
        desk.page.goto(desk.running.url + path)
        desk.settle()
        try:
            desk.check()
            assert desk.page.evaluate(SUMS) == []
        except AssertionError as fault:
            wrong[path] = str(fault)[:400]
            desk.faults.clear()
    assert wrong == {}
