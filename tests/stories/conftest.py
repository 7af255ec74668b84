"""Browser tests: the real interface in headless Chromium, through roles and labels.

Every page of every story fails on a console error, a failed request, or an accessibility violation (axe-core). Acts are
counted: one touch, one field typed.
"""

from __future__ import annotations

import os
import re
import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Error, Page, sync_playwright

from tests.stories.house import Running, copy_of, demo_template

AXE = (Path(__file__).parent.parent / "vendor" / "axe.min.js").read_text("utf-8")
CHROMIUM = shutil.which("chromium-headless-shell") or shutil.which("chromium")  # the first draws no windows of its own
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
FLAGS += ["--disable-component-update", "--disable-sync", "--font-render-hinting=none"]  # texts as wide as on a screen


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield chromium
        chromium.close()


@pytest.fixture(scope="session")
def template(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return demo_template(tmp_path_factory.mktemp("template"))


@pytest.fixture
def running(template: Path, tmp_path: Path) -> Iterator[Running]:
    house = copy_of(template, tmp_path / "house")
    yield house
    house.stop()


READY = """
document.readyState === 'complete' && !document.querySelector('[aria-busy]')
  && [...document.querySelectorAll('[x-data]')].every((one) => one._x_dataStack)
"""  # no part is being swapped, and what works by itself has begun
KINDS = """() => {
  const said = new Set(["class", "role", "type", "disabled", "hidden", "tabindex", "aria-hidden", "aria-current", "aria-expanded"]);
  const plain = (one) => one.tagName + [...one.attributes].map(({ name, value }) => said.has(name) ? `${name}=${value}` : name + (value ? "+" : ""))
    .sort().join("|") + ([...one.childNodes].some((node) => node.nodeType === 3 && node.data.trim()) ? " text" : "");
  return [...new Set([...document.querySelectorAll("body, body *")].map((one) => `${plain(one.parentElement)} > ${plain(one)}`))];
}"""  # what stands on a page, by what it is and stands in, whatever it says
CHECKED: dict[str, set[str]] = {}  # by the size of the screen


class Clerk:
    """Somebody at a screen, whose acts are counted."""

    def __init__(self, context: BrowserContext, running: Running) -> None:
        self.page: Page = context.new_page()
        self.running = running
        self.acts = 0
        self.faults: list[str] = []
        self.expected: set[int] = set()  # statuses of refusals that the test provokes
        self.cut = False  # whether the test has cut the connection: then requests fail
        self.page.set_default_timeout(30_000)
        self.page.on("console", self._heard)
        self.page.on("pageerror", lambda error: self.faults.append(f"script error: {error}"))
        self.page.on("requestfailed", self._failed)

    def _heard(self, message: Any) -> None:
        stream = "/devices/listen" in (message.location or {}).get("url", "")  # ends when the house is killed
        if (
            message.type == "error"
            and not stream
            and not (self.cut and "net::" in message.text)
            and not any(f"status of {status}" in message.text for status in self.expected)
        ):
            self.faults.append(f"console: {message.text}")

    def _failed(self, request: Any) -> None:
        left = ("/live?", "/devices/listen", "/static/mark.svg")  # streams, and the icon, end when their page is left
        refreshing = request.resource_type == "fetch" and "ERR_ABORTED" in (request.failure or "")  # the page was left
        if not self.cut and not refreshing and not any(part in request.url for part in left):
            self.faults.append(f"failed: {request.url} {request.failure}")

    def sign_in(self, who: str = "tamsin", pin: str = "2086", till: str = "galley") -> None:
        self.page.goto(f"{self.running.url}/sign-in?who={who}&till={till}")
        self.page.get_by_label("PIN", exact=True).fill(pin)
        self.page.wait_for_url(re.compile(r"/(counter-mode)?$"))  # who is held to it begins there
        self.acts = 0

    def touch(
        self, role: str, name: str | re.Pattern[str], *, exact: bool = False, nth: int = 0, check: bool = True
    ) -> None:
        """One touch on something with words."""
        self.page.get_by_role(role, name=name, exact=exact).nth(nth).click()  # type: ignore[arg-type]  # a role by its name
        self.acts += 1
        self.settle()
        if check:
            self.check()

    def type(self, label: str, text: str, *, enter: bool = False) -> None:
        """One field typed."""
        field = self.page.get_by_label(label, exact=True)
        field.fill(text)
        self.acts += 1
        if enter:
            field.press("Enter")
        self.settle()

    def tick(self, *names: str) -> None:
        """One touch on each of some boxes."""
        for name in names:
            self.page.get_by_role("checkbox", name=name).check()
            self.acts += 1
        self.settle()

    def counted(self, job: str, wanted: int, most: int = 0) -> None:
        """The acts of a job: at most what is wanted, or `most` where docs/acts.md says why that cannot be met yet."""
        print(f"{job}: wanted {wanted}, found {self.acts}")
        assert self.acts <= max(wanted, most), (job, self.acts)
        if counts := os.environ.get("ACTS"):
            with Path(counts).open("a", encoding="utf-8") as file:
                file.write(f"{self.acts}\t{wanted}\t{job}\n")

    def settle(self) -> None:
        """Wait until no part of the page is being swapped."""
        for _ in range(200):
            with suppress(Error):  # the page is just being left
                if self.page.evaluate(READY):
                    return
            self.page.wait_for_timeout(25)
        raise AssertionError(f"the page is still busy; {self.faults}")

    def sees(self, text: str | re.Pattern[str]) -> None:
        """Some text stands on the page; a time of day as a pattern, for the demo's clock goes on while stories run."""
        self.page.get_by_text(text).first.wait_for()

    def check(self) -> None:
        """No fault so far, no sideways scroll, no accessibility violation on this page."""
        assert self.faults == []
        wide = self.page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        assert wide <= 0, f"sideways scroll of {wide} px on {self.page.url}"
        before, kinds = CHECKED.setdefault(repr(self.page.viewport_size), set()), set(self.page.evaluate(KINDS))
        if kinds <= before:  # everything of its kind was found without a violation before
            return
        if not self.page.evaluate("'axe' in window"):
            self.page.evaluate(AXE)
        found = self.page.evaluate("axe.run(document, {resultTypes: ['violations']})")
        told = [(v["id"], v["help"], [n["html"][:160] for n in v["nodes"][:3]]) for v in found["violations"]]
        assert told == [], self.page.url
        before |= kinds


@contextmanager
def device_desk(one: Clerk, till: str = "galley") -> Iterator[Page]:
    """The page of the device desk on a screen of its own, where a supervisor stands."""
    browser = one.page.context.browser
    assert browser is not None
    context = browser.new_context()
    page = context.new_page()
    page.goto(f"{one.running.url}/sign-in?who=odile&till={till}")
    page.get_by_label("PIN", exact=True).fill("407118")
    page.wait_for_url(f"{one.running.url}/")
    page.goto(f"{one.running.url}/devices")
    yield page
    context.close()


@pytest.fixture
def clerk(browser: Browser, running: Running) -> Iterator[Callable[..., Clerk]]:
    """Makes clerks, each with a browser of their own."""
    made: list[Clerk] = []

    def make(width: int = 1280, height: int = 800, *, deaf: bool = False) -> Clerk:
        """With `deaf` the screen does not hear what others do, as when the network was gone for a moment."""
        context = browser.new_context(viewport={"width": width, "height": height})
        if deaf:
            context.route("**/devices/listen", lambda route: route.abort())
        made.append(Clerk(context, running))
        return made[-1]

    yield make
    for one in (clerk for clerk in made if not clerk.page.is_closed()):
        print(
            f"at the end a clerk saw {one.page.url}:\n{one.page.locator('body').inner_text()}\n"
        )  # shown if it failed
        one.page.context.close()
