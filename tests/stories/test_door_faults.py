"""What breaks doors: the same form sent three times at once, two desks, a kill in mid-charge, scans into fields, odd input."""

from __future__ import annotations

import re

import pytest

from abrazo.desk.sign_in import hash_pin
from abrazo.store import journal
from abrazo.store import tenders as tenders_store
from tests.stories.conftest import Clerk, device_desk
from tests.stories.desk import MakeClerk, code_of, in_balance, scan, until_at_the_machine, wren
from tests.stories.house import Running
from tests.stories.waiting import until

AT_ONCE = """async (selector) => {
  const button = [...document.querySelectorAll("button")].find((b) => b.textContent.includes(selector));
  const send = () => fetch(button.form.action, {method: "POST", body: new FormData(button.form, button)});
  const answers = await Promise.all([send(), send(), send()]);
  return answers.map((answer) => answer.status);
}"""
LONG = "Wilhelmina-Konstantinopolitanissima-Featherstonehaugh-Oyelaran"[:60]


def thrice_at_once(desk: Clerk, words: str) -> None:
    """The form of a button, three times at the same moment, past the interface's own guard."""
    assert set(desk.page.evaluate(AT_ONCE, words)) <= {200}


def one(running: Running, sql: str) -> int:
    house = running.look()
    found = house.connection.execute(sql).fetchone()[0]
    house.connection.close()
    return int(found)


def test_the_same_form_three_times_at_once(clerk: MakeClerk, running: Running) -> None:
    """One ticket, one hold, one hand-over, one rest given back, one person."""
    desk = wren(clerk)
    tickets = one(running, "SELECT count(*) FROM ticket")
    thrice_at_once(desk, "Check out Elis")
    assert one(running, "SELECT count(*) FROM ticket") == tickets + 1
    desk.page.goto(f"{running.url}/tabs/new?name=Xenia")
    desk.page.get_by_role("radio", name="Card machine 2").check(force=True)
    thrice_at_once(desk, "Open the tab, hold it")
    assert one(running, "SELECT count(*) FROM ticket WHERE name = 'Xenia'") == 1
    assert one(running, "SELECT count(*) FROM card_request WHERE kind = 'hold' AND machine = 'card machine 2'") == 1
    desk.page.goto(f"{running.url}/find?q=S-1042")
    desk.touch("button", "Settle with the deposit, then hand over", check=False)
    thrice_at_once(desk, "of the deposit back in cash")
    assert one(running, "SELECT sum(amount) FROM petty_cash WHERE deposit IS NOT NULL") == 800
    desk.page.reload()
    thrice_at_once(desk, "Hand over S-1042")
    assert one(running, "SELECT sum(pieces) FROM hand_over h JOIN job j ON j.id = h.job WHERE j.number = 1042") == 2
    desk.page.goto(f"{running.url}/people?q=Zita")
    thrice_at_once(desk, "Add this person")
    assert one(running, "SELECT count(*) FROM person WHERE name = 'Zita'") == 1
    in_balance(running)


def test_two_desks_on_one_booking_and_one_job(clerk: MakeClerk, running: Running) -> None:
    """The second desk lands on the first one's ticket; a job that is on a ticket is not settled twice."""
    first, second = wren(clerk), wren(clerk, deaf=True)
    first.touch("button", "Check out Elis Lindqvist-Amari, €48.00")
    second.touch("button", "Check out Elis Lindqvist-Amari, €48.00")
    assert (
        first.page.get_by_role("link", name=re.compile("ticket 21")).inner_text()
        == second.page.get_by_role("link", name=re.compile("ticket 21")).inner_text()
    )
    first.touch("button", re.compile("Add S-1036"))
    second.expected = {409, 422}
    second.touch("button", re.compile("Add S-1036"))
    second.sees("This ticket was changed meanwhile.")
    assert one(running, "SELECT count(*) FROM line WHERE label LIKE 'Wrist seals%' AND removed_at IS NULL") == 1
    in_balance(running)


@pytest.mark.parametrize("again", ["reload", "kill"])
def test_a_held_card_charged_while_all_goes_dark(clerk: MakeClerk, running: Running, again: str) -> None:
    """A reload, or a dead process, in the middle of taking from the held card: it is taken once, and found."""
    bar = clerk()
    bar.sign_in()
    with device_desk(bar) as page:
        form = page.get_by_role("region", name="Card machine 1")
        form.get_by_label("slow", exact=True).check()
        with page.expect_response("**/devices/machine"):
            form.get_by_role("button", name="Tell card machine 1").click()
    bar.touch("link", "Tabs, 4")
    bar.touch("link", re.compile("^Cass Whitlock"))
    bar.touch("link", "Pay €64.40")
    bar.touch("button", re.compile("settle €64.40 on", re.I), check=False)
    bar.sees("Taking from the held card")
    until_at_the_machine(running)
    if again == "kill":
        running.kill()
        running.start()
    bar.page.reload()
    bar.page.get_by_role("heading", name="Tab Cass Whitlock is paid").wait_for()
    in_balance(running)
    house = running.look()
    asks = [ask for ask in tenders_store.open_requests(house.connection) if ask.kind != "charge"]
    assert asks == [] and journal.balance(house.connection, "assets:held-on-cards:card-machine-1") == 3000 + 4000
    house.connection.close()


def test_a_scan_into_the_wrong_field(clerk: MakeClerk, running: Running) -> None:
    """Into the amount, the PIN of a lender, a note: the field keeps what it had, the goods come onto the ticket."""
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    amount = desk.page.get_by_label("Amount to take", exact=True)
    amount.focus()
    scan(desk.page, code_of(running, "Tide tables"))
    desk.page.locator("a.line, summary.line", has_text="Tide tables").wait_for()
    assert (
        one(
            running,
            "SELECT count(*) FROM payment p JOIN ticket t ON t.id = p.ticket WHERE t.spot = 'D1' AND t.state = 'open'",
        )
        == 0
    )
    desk.page.goto(f"{running.url}/jobs/new?person=14")
    thing = desk.page.get_by_label("The thing")
    thing.fill("Sail, tan")
    thing.focus()
    scan(desk.page, "S1036")
    desk.page.get_by_role("heading", name="S-1036").wait_for()
    assert one(running, "SELECT count(*) FROM job") == 14
    tabs = one(running, "SELECT count(*) FROM ticket WHERE source = 'tab'")
    number = one(running, "SELECT number FROM ticket WHERE spot = 'D1' AND state = 'open'")
    desk.page.goto(running.url)
    scan(desk.page, f"T{number}")  # on Today T opens a tab, and its Enter would hold money on a card
    desk.page.get_by_role("heading", name="Table D1").wait_for()
    assert one(running, "SELECT count(*) FROM ticket WHERE source = 'tab'") == tabs
    desk.faults.clear()


def test_long_names_everywhere(clerk: MakeClerk, running: Running) -> None:
    """Sixty letters without a blank run over nowhere; eighty are refused beside the field, and tenders_store."""
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/people")
    desk.expected = {422}
    desk.type("Name", LONG + "x" * 21)
    desk.touch("button", "Add this person")
    desk.sees("A name has at most 60 characters; this one has 81.")
    assert desk.page.get_by_label("Name", exact=True).input_value().endswith("x" * 21)
    desk.expected = set()
    desk.type("Name", LONG)
    desk.type("Phone", "020 910 0188")
    desk.touch("button", "Add this person")
    desk.touch("link", "Job drop-off")
    desk.type("The thing", "y" * 60)
    desk.page.get_by_role("checkbox", name="Hull patch").check()
    desk.type("Deposit, paid first", "10")
    desk.touch("button", "Take in the job, print its tag")
    desk.touch("button", "€10.00 exact")
    desk.touch("link", "That is all: to the receipt and the end")
    desk.touch("link", "Receipt for A")
    narrow = wren(clerk, width=390, height=844)
    for path in ("/", "/?lens=jobs", "/find?q=S-1045", "/find?q=020 910 0188", "/find?q=2152"):
        for screen in (desk, narrow):
            screen.page.goto(f"{running.url}{path}")
            screen.check()


@pytest.mark.parametrize(
    ("path", "field", "typed", "button", "says"),
    [
        ("/tabs/new?name=Ro", "Hold on the card", "0.00", "Open the tab, hold it on the card machine", "Hold how much? More than 0"),
        ("/tabs/new?name=Ro", "Hold on the card", "thirty", "Open the tab, hold it on the card machine", "“thirty” is not an amount"),
        ("/tabs/new", "Name", "z" * 41, "Open the tab, hold it on the card machine", "A name has at most 40 characters"),
        ("/people/4", "Pay on account", "0", "Take this payment", "How much? More than 0."),
        ("/jobs/new?person=14", "The thing", "z" * 61, "Take in the job, print its tag", "At most 60 characters"),
        ("/people/1", "Time", "7 o'clock", "Book it", "is no date and time"),
        ("/people/1", "Time", "09:00", "Book it", "is in the past"),
    ],
)  # fmt: skip
def test_odd_input_is_said_beside_its_cause(
    clerk: MakeClerk, running: Running, path: str, field: str, typed: str, button: str, says: str
) -> None:
    desk = wren(clerk)
    tickets, people = one(running, "SELECT count(*) FROM ticket"), one(running, "SELECT count(*) FROM booking")
    desk.page.goto(f"{running.url}{path}")
    desk.expected = {422}
    desk.type(field, typed)
    desk.touch("button", button)
    desk.sees(says)
    assert desk.page.get_by_label(field, exact=True).input_value() == typed
    assert (one(running, "SELECT count(*) FROM ticket"), one(running, "SELECT count(*) FROM booking")) == (
        tickets,
        people,
    )


def test_devices_that_fail(clerk: MakeClerk, running: Running) -> None:
    """A stuck drawer is said, the payment stands; a tag waits for paper; a message waits for its line."""
    desk = clerk()
    desk.sign_in("odile", "407118", "landing")
    desk.page.goto(f"{running.url}/devices")
    for button in ("Let the drawers stick", "Take the paper out", "Cut the line", "Let the scanner go dead"):
        desk.touch("button", button)
    desk.page.goto(f"{running.url}/find?q=S-1033")
    desk.touch("button", "ready", exact=True)
    desk.sees("Fenna gets a message.")
    desk.touch("button", "Print the tag")
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay&handed=30.00")
    desk.touch("button", "Take €30.00 cash, give €1.90 change")
    desk.sees("The drawer did not open. Open it with its key.")
    desk.page.goto(f"{running.url}/devices")
    desk.sees("waits")
    for button in ("Free the drawers", "Put paper in", "Mend the line", "Charge the scanner"):
        desk.touch("button", button)

    def delivered() -> int:
        desk.page.reload()
        return desk.page.get_by_text("delivered").count()

    until(delivered)
    desk.page.get_by_label("Printed paper").get_by_text("Fenna Okafor-Lind").first.wait_for()
    in_balance(running)


def test_a_longer_pin_signs_in_by_its_last_digit(clerk: MakeClerk, running: Running) -> None:
    """Six digits on the keys; the fourth does nothing yet."""
    house = running.look()
    house.connection.execute("UPDATE staff SET pin_hash = ?, pin_digits = 6 WHERE id = 'odile'", (hash_pin("640218"),))
    house.connection.close()
    odile = clerk()
    odile.page.goto(f"{running.url}/sign-in?who=odile&till=galley")
    keys = odile.page.get_by_role("group", name="PIN keys")
    for digit in "6402":
        keys.get_by_role("button", name=digit, exact=True).click()
    assert odile.page.get_by_label("PIN", exact=True).input_value() == "6402"
    for digit in "18":
        keys.get_by_role("button", name=digit, exact=True).click()
    odile.page.wait_for_url(f"{running.url}/")
    odile.check()
