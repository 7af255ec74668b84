"""The pictures in docs/screenshots, made from the demo's data: `make screenshots`."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.stories.conftest import FLAGS
from tests.stories.house import Running, copy_of, demo_template

FOLDER = Path(__file__).parent.parent.parent / "docs/screenshots"
D4 = 18


def main() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as work, sync_playwright() as playwright:
        running = copy_of(demo_template(Path(work, "template")), Path(work, "house"))
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        try:
            _desk(running, browser.new_page(viewport={"width": 1280, "height": 800}))
            _phone(running, browser.new_page(viewport={"width": 390, "height": 844}))
        finally:
            browser.close()
            running.stop()


def _shot(page: Page, name: str) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def _sign_in(running: Running, page: Page, name: str = "") -> None:
    page.goto(f"{running.url}/sign-in?who=tamsin")
    if name:
        _shot(page, name)
    page.get_by_label("PIN", exact=True).fill("2086")
    page.wait_for_url(f"{running.url}/")


def _desk(running: Running, page: Page) -> None:
    _sign_in(running, page, "sign-in")
    _shot(page, "today")
    page.goto(f"{running.url}/tickets/{D4}?category=toasties&item=crab-toastie&seats=C")
    page.get_by_label("rye").check()
    page.get_by_label("extra crab").check()
    _shot(page, "pick")
    page.goto(running.url)
    page.get_by_role("button", name="Share out €92.30 on D4").click()
    page.get_by_role("link", name="Take €21.54 from A").wait_for()
    _shot(page, "share")
    page.get_by_role("link", name="Take €21.54 from A").click()
    page.get_by_role("link", name="Why this much?").click()
    page.locator("summary", has_text="Smoked mussel pot").first.click()
    page.evaluate("scrollTo(0, 0)")
    _shot(page, "why")
    page.go_back()
    page.get_by_role("button", name="Charge €21.54").click()
    page.get_by_text("PIN keyed").first.wait_for()
    page.wait_for_timeout(2600)
    _shot(page, "card-machine")
    page.get_by_role("heading", name="Seat B pays").wait_for(timeout=20_000)
    page.get_by_role("button", name="10 %").click()
    _shot(page, "pay")
    page.get_by_role("link", name="€10.00").click()
    page.get_by_role("button", name="Take €10.00 cash").click()
    page.get_by_role("heading", name="Give B the change").wait_for()
    _shot(page, "change")
    page.goto(f"{running.url}/tickets/23?view=pay")
    _shot(page, "no-answer")
    page.goto(f"{running.url}/tickets/25/done")
    page.get_by_role("link", name="Receipt").first.click()
    page.get_by_role("heading", name="Receipt of").wait_for()
    _shot(page, "receipt")
    page.goto(f"{running.url}/till/report")
    _shot(page, "report")
    for name in ("till", "past", "devices"):
        page.goto(f"{running.url}/{name}")
        _shot(page, name)


def _phone(running: Running, page: Page) -> None:
    _sign_in(running, page)
    _shot(page, "phone-today")
    page.goto(f"{running.url}/tickets/{D4}?view=share")
    _shot(page, "phone-share")
    page.goto(f"{running.url}/tickets/{D4}?view=pay")
    _shot(page, "phone-pay")


if __name__ == "__main__":
    main()
