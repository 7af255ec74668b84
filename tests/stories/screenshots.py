"""The pictures in docs/screenshots, made from the demo's data: `make screenshots`."""

from __future__ import annotations

import io
import re
import tempfile
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, sync_playwright

from tests.stories.conftest import CHROMIUM, FLAGS
from tests.stories.house import Running, copy_of, demo_template

FOLDER = Path(__file__).parent.parent.parent / "docs/screenshots"


def main() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as work, sync_playwright() as playwright:
        running = copy_of(demo_template(Path(work, "template")), Path(work, "house"))
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:
            _doors(running, browser.new_page(viewport={"width": 1280, "height": 800}))
            _desk(running, browser.new_page(viewport={"width": 1280, "height": 800}))
            _first_start(Path(work, "new"), browser.new_page(viewport={"width": 1280, "height": 800}))
            _phone(running, browser.new_page(viewport={"width": 390, "height": 844}))
        finally:
            browser.close()
            running.stop()


def _shot(page: Page, name: str) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def _sign_in(running: Running, page: Page, who: str = "tamsin", pin: str = "2086", till: str = "galley") -> None:
    page.goto(f"{running.url}/sign-in?who={who}&till={till}")
    page.get_by_label("PIN", exact=True).fill(pin)
    page.wait_for_url(f"{running.url}/")


def _desk(running: Running, page: Page) -> None:
    _sign_in(running, page)
    _shot(page, "today")
    page.goto(f"{running.url}/tickets/{running.ticket('D4')}?category=toasties&item=crab-toastie&seats=C")
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
    page.get_by_role("heading", name="Seat B pays").wait_for(timeout=45_000)
    page.get_by_role("button", name="10 %").click()
    _shot(page, "pay")
    page.get_by_role("button", name="€10.00").first.click()
    page.get_by_role("heading", name="Give B the change").wait_for()
    page.emulate_media(color_scheme="dark")
    page.goto(f"{running.url}/prep/kitchen")
    _shot(page, "kitchen")
    page.emulate_media(color_scheme="light")
    page.goto(f"{running.url}/counter-mode")
    for item in ("Lemon posset", "Small cider"):
        page.get_by_role("button", name=f"Add {item}").click()
        page.get_by_role("button", name=f"Remove {item.lower()}").wait_for()
    _shot(page, "counter")
    page.goto(f"{running.url}/past")
    _shot(page, "past")
    page.get_by_role("button", name="Lock").click()
    _sign_in(running, page, "odile", "407118")
    for name, path in (
        ("count", "till/count"),
        ("report", "till/report?from=2026-06-12&to=2026-06-13"),
        ("set-up", "set-up/list/price-lists/late-tide"),
    ):
        page.goto(f"{running.url}/{path}")
        _shot(page, name)


def _doors(running: Running, page: Page) -> None:
    """The Landing's doors, before anything else has happened there."""
    _sign_in(running, page, "wren", "5512", "landing")
    page.get_by_role("link", name=re.compile("Elis Lindqvist-Amari 12:15")).click()
    page.get_by_role("heading", name="Elis Lindqvist-Amari").wait_for()
    _shot(page, "bookings")
    for name in ("jobs",):
        page.goto(f"{running.url}/?lens={name}")
        _shot(page, name)
    page.goto(f"{running.url}/hire?q=signe")
    _shot(page, "hire")
    page.goto(f"{running.url}/find?q=S-1034")
    _shot(page, "job")
    page.goto(f"{running.url}/jobs/new?person=14")
    page.get_by_label("The thing").fill("Sail, storm jib, red")
    page.get_by_role("checkbox", name="Sail seam patch").check()
    page.get_by_label("Off-cuts of sailcloth, kg").fill("1.4")
    page.get_by_role("checkbox", name="call before extra work").check()
    page.get_by_label("Deposit, paid first").fill("20")
    _shot(page, "drop-off")
    page.goto(f"{running.url}/find?q=020 910 0102")
    _shot(page, "person")


def _phone(running: Running, page: Page) -> None:
    """Two views side by side."""
    _sign_in(running, page)
    page.wait_for_timeout(400)
    shots = [page.screenshot()]
    page.goto(f"{running.url}/tickets/{running.ticket('D4')}?view=pay")
    page.wait_for_timeout(400)
    shots.append(page.screenshot())
    left, right = (Image.open(io.BytesIO(one)) for one in shots)
    both = Image.new("RGB", (left.width + 24 + right.width, left.height), "white")
    both.paste(left, (0, 0))
    both.paste(right, (left.width + 24, 0))
    both.save(FOLDER / "phone.png", optimize=True)


def _first_start(folder: Path, page: Page) -> None:
    """What stands there before there is a house."""
    folder.mkdir()
    empty = Running(folder, what="serve")
    empty.start()
    page.goto(empty.url)
    page.get_by_label("What is it called?").fill("The Low Door")
    page.get_by_label("Country").fill("at")
    page.get_by_role("button", name="Propose currency, zone and language").click()
    page.get_by_label("Time zone").wait_for()
    _shot(page, "first-start")
    empty.stop()


if __name__ == "__main__":
    main()
