"""Every main view as others see it: in a longer language, at night, with text twice as large; nothing clips or overlaps.

The language is made up: every text of the catalogue, accented and a third longer. What stands on a page without the
catalogue is found by tests/web/test_languages.py.
"""

from __future__ import annotations

import re
import shutil
import sqlite3
import sys
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from pprint import pformat
from typing import Any

import pytest
from playwright.sync_api import Browser, Page

from tests.long.test_widths import SUMS
from tests.made_up_language import written
from tests.stories.conftest import AXE, CHROMIUM, FLAGS
from tests.stories.house import Running
from tests.web.demo_pages import SET_UP

ACCENTED = str.maketrans("aceinosuyzACEINOSUYZ", "åçéîñøšüýžÅÇÉÎÑØŠÜÝŽ")
RUN = """
import sys
from pathlib import Path
from abrazo.words import catalogue
catalogue.FOLDER = Path(sys.argv.pop(1))
from abrazo.cli.main import run
run()
"""
CLIPPED = """() => {
  const wrong = [], width = document.documentElement.clientWidth;
  for (const one of document.querySelectorAll("a, button, h1, h2, h3, p, span, b, label, summary, td, th, dt, dd, li")) {
    const texts = [...one.childNodes].filter((node) => node.nodeType === 3 && node.data.trim());
    const style = getComputedStyle(one);
    if (!texts.length || !one.checkVisibility() || one.closest(".is-sr-only, svg, pre")) continue;
    const said = one.textContent.trim().replace(/\\s+/g, " ").slice(0, 60);
    const range = document.createRange();
    range.selectNodeContents(one);
    const seen = range.getBoundingClientRect(), box = one.getBoundingClientRect();
    const scrolls = one.closest("[data-keep], .kinds, .slip, .table-wrap, .rights, table");
    if (seen.right > width + 1 && !scrolls && style.textOverflow !== "ellipsis") wrong.push(`outside: ${said}`);
    if (one.matches("a.button, button") && (seen.right > box.right + 1 || seen.bottom > box.bottom + 2)) wrong.push(`over its edge: ${said}`);
    if (style.overflowX === "hidden" && style.textOverflow !== "ellipsis" && style.webkitLineClamp === "none" && one.scrollWidth > one.clientWidth + 1) wrong.push(`clipped: ${said}`);
  }
  return [...new Set(wrong)];
}"""

TOUCHING = """() => {
  const boxed = (one) => { const look = getComputedStyle(one); return look.borderTopWidth !== "0px" || look.backgroundColor !== "rgba(0, 0, 0, 0)"; };
  const found = [...document.querySelectorAll("main :is(button, a.button, select, input:not([type=hidden], [type=radio], [type=checkbox]))")];
  const all = found.filter((one) => one.checkVisibility() && boxed(one) && !one.closest(".is-sr-only, .choose, .keypad, .map, [data-keep], .foot, .pay-act, .startbar"));
  const said = (one) => (one.getAttribute("aria-label") || one.textContent || one.name).trim().replace(/\\s+/g, " ").slice(0, 40);
  const boxes = all.map((one) => [one, one.getBoundingClientRect()]), wrong = [];
  boxes.forEach(([one, a], at) => boxes.slice(at + 1).forEach(([other, b]) => {
    const wide = Math.min(a.right, b.right) - Math.max(a.left, b.left), tall = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
    if (!one.contains(other) && !other.contains(one) && Math.max(wide, tall) > 4 && Math.min(wide, tall) > -1) wrong.push(`touching: ${said(one)} / ${said(other)}`);
  }));
  return [...new Set(wrong)];
}"""


def longer(message: str) -> str:
    """A text as another language might have it: accented, a third longer; what stands in braces stays."""
    said = "".join(
        part if part.startswith("{") else part.translate(ACCENTED) for part in re.split(r"(\{[^}]*\})", message)
    )
    return said + "e" * max(1, len(message) // 3) if message.strip() else said


@pytest.fixture(scope="module")
def house(tmp_path_factory: pytest.TempPathFactory, template: Path) -> Iterator[Running]:
    """The demo's house, which has chosen that language."""
    folder = tmp_path_factory.mktemp("looks")
    written(folder / "languages", longer)
    shutil.copytree(template, folder / "house")
    with closing(sqlite3.connect(folder / "house" / "house.db")) as raw:
        raw.execute("UPDATE settings SET language = 'eo'")
        raw.commit()
    running = Running(folder / "house", (sys.executable, "-c", RUN, str(folder / "languages")))
    running.start()
    yield running
    running.stop()


def views(running: Running) -> list[str]:
    """The main views, each once."""
    d4, d5, paid = (running.ticket(spot) for spot in ("D4", "D5", "B2"))
    found = [
        "/?lens=room",
        "/?lens=bookings",
        "/?lens=jobs",
        "/?lens=tabs",
        "/counter-mode",
        "/jobs/new",
        "/orders/new",
    ]
    found += [f"/tickets/{d4}?view={view}" for view in ("pick", "lines", "pay")]
    found += [f"/tickets/{d5}?view=share", f"/tickets/{d5}?view=pay", f"/tickets/{paid}/done", f"/tickets/{d4}/adjust"]
    found += [
        f"/tickets/{d4}/move",
        f"/tickets/{d4}/person",
        "/people/1",
        "/people/5",
        "/people/5/statement",
        "/accounts",
        "/accounts/statements/1",
        "/hire/owners",
        "/courses",
        "/courses/1",
        "/people/4/invoices",
        "/invoices/1",
        "/bookings",
        "/bookings/new",
        "/bookings/9/change",
        "/jobs/2/change",
        "/?lens=bookings&booking=9",
        *SET_UP,
        "/hire",
        "/hire/2",
        "/set-aside",
        "/jobs/1",
        "/past",
        "/prep/kitchen",
        "/till",
    ]
    return [*found, "/till/count", "/devices", "/till/close", "/till/report"]


def signed_in(browser: Browser, running: Running, **look: Any) -> Page:
    page = browser.new_context(**look).new_page()
    page.goto(f"{running.url}/sign-in?who=odile&till=landing")
    page.locator("input[name=pin]").fill("407118")
    page.wait_for_url(f"{running.url}/")
    return page


def faults(page: Page, running: Running, look: str) -> dict[str, object]:
    """What is wrong on each view, by what `look` gives for it."""
    wrong: dict[str, object] = {}
    for path in views(running):
        page.goto(running.url + path)
        found = page.evaluate(look)
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        if found or wide > 0:
            wrong[path] = (found, wide)
    print(pformat(wrong, width=160))  # shown if it fails
    return wrong


ALL = f"() => [...({CLIPPED})(), ...({SUMS})(), ...({TOUCHING})()]"


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (768, 1024), (390, 844)])
def test_a_longer_language_fits(browser: Browser, house: Running, width: int, height: int) -> None:
    page = signed_in(browser, house, viewport={"width": width, "height": height})
    assert faults(page, house, ALL) == {}
    page.goto(f"{house.url}/?lens=room")
    bar = page.locator(".startbar").bounding_box()
    assert bar and bar["height"] < height / 5, "the start bar leaves the room its place"
    page.context.close()


def test_text_twice_as_large_fits(browser: Browser, house: Running) -> None:
    """The browser's own size of text, not its zoom: pages follow it, and so do the widths at which they change."""
    large = browser.browser_type.launch(executable_path=CHROMIUM, args=[*FLAGS, "--blink-settings=defaultFontSize=32"])
    page = signed_in(large, house, viewport={"width": 1280, "height": 800})
    assert page.evaluate("getComputedStyle(document.body).fontSize") == "32px"
    assert faults(page, house, f"() => ({SUMS})()") == {}
    large.close()


def test_at_night_everything_can_be_read(browser: Browser, house: Running) -> None:
    page = signed_in(browser, house, viewport={"width": 1280, "height": 800}, color_scheme="dark")
    assert page.evaluate("getComputedStyle(document.body).backgroundColor") == "rgb(18, 24, 29)"
    run = """async () => {
      const rules = {"label-content-name-mismatch": {enabled: false}}; // made-up words do not begin alike
      const found = await axe.run(document, {resultTypes: ["violations"], rules});
      return found.violations.map((one) => [one.id, one.nodes[0].html.slice(0, 160)]);
    }"""
    page.add_init_script(AXE)
    assert faults(page, house, run) == {}
    page.context.close()
