"""Paying in full, in the real interface: keyed cards, gift cards, what is corrected after closing, matching by route."""

from __future__ import annotations

import re

import pytest

from tests.stories.conftest import Clerk, device_desk
from tests.stories.desk import MakeClerk, in_balance, killed_in_between, wren
from tests.stories.house import Running
from tests.stories.test_table_settled import machine_tells
from tests.stories.waiting import until

NUMBER = "4000 0012 3456 7899"  # check digit by ISO/IEC 7812-1, annex B; no bank's
FINDER = "Find or scan a table, ticket, job, name or phone"


def service_tells(desk: Clerk, outcome: str) -> None:
    """Somebody at the device desk says what the payment service does next."""
    with device_desk(desk) as page:
        form = page.get_by_role("region", name="Payment service")
        form.get_by_label(outcome, exact=True).check()
        form.get_by_label("at once", exact=True).check()
        with page.expect_response("**/devices/machine"):
            form.get_by_role("button", name="Tell payment service").click()


def key_card(desk: Clerk, number: str = NUMBER) -> None:
    desk.type("Card number", number)
    desk.type("Expiry, MM/YY", "09/29")
    desk.type("Security code", "907")


def ends_at(desk: Clerk, address: str) -> None:
    desk.page.wait_for_url(f"**{address}")
    desk.settle()


@pytest.mark.acts
def test_somebody_pays_what_they_owe_over_the_phone(clerk: MakeClerk, running: Running) -> None:
    """7 acts from Today, the phone number being the safest key. The card's number is nowhere afterwards."""
    desk = wren(clerk)
    service_tells(desk, "approved")
    desk.acts = 0
    desk.type(FINDER, "020 910 0120", enter=True)
    desk.touch("button", "Take this payment")
    desk.touch("link", "Key a card")
    key_card(desk)
    desk.touch("button", re.compile("charge .* on this card through the payment service", re.I), check=False)
    desk.counted("account payment over the phone, from Today", 7)
    ends_at(desk, "/done")
    desk.check()
    desk.sees("Charged through payment service, keyed card, Pelagia card ending 7899")
    assert "4000" not in desk.page.content()
    running.kill()
    folder = running.db.parent
    everything = b"".join(file.read_bytes() for file in folder.iterdir() if file.is_file())
    running.start()
    assert b"7899" in everything
    for canary in (NUMBER, NUMBER.replace(" ", "")):
        assert canary.encode() not in everything
    in_balance(running)


@pytest.mark.acts
def test_an_account_paid_from_its_sheet_by_stored_card(clerk: MakeClerk, running: Running) -> None:
    """Another amount, the stored card, the new balance on the page and on the receipt; again with what is proposed."""
    desk = wren(clerk)
    service_tells(desk, "approved")
    desk.page.goto(f"{running.url}/people/5")
    desk.page.get_by_text("Store a card").click()
    key_card(desk)
    desk.touch("button", "Let the payment service keep this card")
    desk.sees("••7899")
    desk.acts = 0
    desk.type("Pay on account", "50", enter=True)
    desk.touch("link", re.compile("••7899"), check=False)
    desk.touch("button", re.compile("^Charge €50.00 on .*••7899"), check=False)
    ends_at(desk, "/done")
    desk.sees("Theo Brandvold owes €73.00 now.")
    desk.counted("account payment from the sheet, another amount, stored card", 4)
    desk.check()
    killed_in_between(desk, running)
    desk.page.goto(f"{running.url}/people/5")
    desk.acts = 0
    desk.touch("button", "Take this payment")
    desk.touch("link", re.compile("••7899"), check=False)
    desk.touch("button", re.compile("^Charge €73.00 on .*••7899"), check=False)
    ends_at(desk, "/done")
    desk.sees("Theo Brandvold owes nothing now.")
    desk.counted("otherwise: account payment from the sheet, all of it", 4)
    in_balance(running)


def test_a_wrong_number_is_keyed_again_and_silence_is_asked_for(clerk: MakeClerk, running: Running) -> None:
    """What may be kept of what was typed is kept; the outcome unknown survives a dead process, and is charged once."""
    desk = wren(clerk)
    service_tells(desk, "charged, but no answer")
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay&way=keyed+card")
    desk.expected = {422}
    key_card(desk, "4000 0012 3456 7890")
    desk.touch("button", "Charge €28.10 on this card")
    desk.sees("This is no card's number")
    assert "0012 3456" not in desk.page.content() and "00123456" not in desk.page.content()
    assert desk.page.get_by_label("Expiry, MM/YY").input_value() == "09/29"
    desk.expected = set()
    desk.type("Card number", NUMBER)
    desk.type("Security code", "907")
    desk.touch("button", "Charge €28.10 on this card", check=False)
    desk.page.get_by_role("heading", name="Payment service did not answer").wait_for(timeout=30_000)
    killed_in_between(desk, running)
    service_tells(desk, "approved")
    desk.page.reload()
    if desk.page.get_by_role("button", name="Ask the payment service how it ended").is_visible():
        desk.touch("button", "Ask the payment service how it ended", check=False)
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}/done")
    desk.sees("Charged through payment service, keyed card")
    in_balance(running)


def test_a_gift_card_is_sold_looked_up_and_spent(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("button", "Counter sale")
    desk.touch("link", "Gift cards")
    desk.type("For how much", "20")
    desk.touch("button", "Put the gift card on")
    desk.touch("link", "Pay €20.00") if desk.page.get_by_role("link", name="Pay €20.00").count() else desk.page.goto(
        desk.page.url.split("?")[0] + "?view=pay"
    )
    desk.touch("button", "€20.00 exact")
    desk.touch("button", "All paid, close")
    house = running.look()
    code = house.connection.execute(
        "SELECT code FROM stored_value WHERE kind = 'gift card' ORDER BY id DESC"
    ).fetchone()[0]
    house.connection.close()
    desk.type(FINDER, code, enter=True)
    desk.sees("is on it")
    desk.check()
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    desk.touch("link", "Gift card")
    desk.expected = {422, 200}
    desk.type("Number on the gift card", "123", enter=True)
    desk.sees("There is no gift card 123 of ours")
    desk.type("Number on the gift card", code, enter=True)
    desk.touch("button", "Take €20.00 from gift card ending")
    desk.sees("Paid with gift card ending")
    desk.touch("button", "Take back €20.00 by gift card")
    desk.type("Amount to take", "30", enter=True)
    desk.sees("€1.90 more than is due.")
    desk.touch("link", "€1.90 is a tip")
    desk.touch("button", "€30.00 exact")
    desk.sees("No change to give")
    in_balance(running)


def test_recorded_but_never_charged_is_found_handed_on_and_charged(clerk: MakeClerk, running: Running) -> None:
    """L2: Wren matches, has not the right and hands it on; Odile charges it properly. Both stay in the journal."""
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/past?q=2127")
    desk.touch("link", re.compile("2127"))
    desk.page.get_by_text("should have been charged").click()
    desk.expected = {422}
    desk.touch("button", "Take the record back, charge €64.00")
    desk.sees("Why? A few words")
    desk.expected = set()
    desk.page.get_by_label("Why", exact=True).first.fill("no slip, I think it was never charged")
    desk.touch("button", "Hand it on to a supervisor")
    odile = clerk()
    odile.sign_in("odile", "407118", "landing")
    odile.touch("link", "Till")
    odile.touch("link", "Match by route")
    odile.sees("perhaps it was never charged")
    odile.sees("It went through, but its answer never came")
    odile.touch("link", "Past tickets")
    odile.touch("link", "Ticket 2127: no slip, I think it was never charged")
    assert odile.page.get_by_label("Why", exact=True).first.input_value() == "no slip, I think it was never charged"
    odile.page.get_by_label("Why", exact=True).first.fill("charged properly")
    odile.touch("button", "Take the record back, charge €64.00")
    odile.sees("Opened again")
    killed_in_between(odile, running)
    machine_tells(odile, "approved", machine="card machine 2")
    odile.touch("button", "Charge €64.00 on card machine", check=False)
    ends_at(odile, "/done")
    odile.touch("button", "Close the ticket")
    in_balance(running)
    odile.page.goto(f"{running.url}/past?chosen={_ticket(running, 2127)}")
    odile.page.get_by_text("Journal: who did what").click()
    odile.sees("Opened again: charged properly")
    assert odile.page.get_by_text("Handed on to you").count() == 0


def _ticket(running: Running, number: int) -> int:
    house = running.look()
    found = house.connection.execute("SELECT id FROM ticket WHERE number = ?", (number,)).fetchone()[0]
    house.connection.close()
    return int(found)


def test_refunds_tips_of_slips_and_a_void_with_a_lent_right(clerk: MakeClerk, running: Running) -> None:
    desk = clerk()
    desk.sign_in()
    machine_tells(desk, "approved")
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    desk.touch("button", "Charge €28.10 on card machine 1", check=False)
    ends_at(desk, "/done")
    desk.type("Tip on the slip", "2.00")
    desk.touch("button", "Add it to the charge", check=False)
    ends_at(desk, "/done")
    desk.sees("tip added")
    desk.touch("button", "Free D1")
    desk.touch("link", "Past tickets")
    desk.page.get_by_text("Refund lines or an amount").click()
    desk.page.get_by_label("Crab toastie").check()
    form = desk.page.locator("form", has=desk.page.get_by_role("button", name="Refund it the way it was paid"))
    form.get_by_label("Why").fill("cold")
    desk.expected = {422}
    desk.touch("button", "Refund it the way it was paid")
    desk.sees("is a supervisor's right")
    desk.expected = set()
    form.get_by_label("Supervisor's PIN").fill("407118")
    desk.touch("button", "Refund it the way it was paid", check=False)

    def refunded() -> int:
        desk.page.reload()
        return desk.page.get_by_text("refunded by card machine 1, cold").count()

    until(refunded)
    in_balance(running)
    desk.touch("link", "Yesterday")
    desk.touch("link", "Today", nth=1)
    desk.page.goto(f"{running.url}/past?chosen={_ticket(running, 2113)}")
    desk.page.get_by_text("All of it was a mistake").click()
    void = desk.page.locator("form", has=desk.page.get_by_role("button", name="Make ticket 2113 void"))
    void.get_by_label("Why").fill("wrong table")
    void.get_by_label("Supervisor's PIN").fill("407118")
    desk.touch("button", "Make ticket 2113 void")
    desk.sees("made void")
    in_balance(running)


def test_ways_to_pay_are_the_houses(clerk: MakeClerk, running: Running) -> None:
    odile = clerk()
    odile.sign_in("odile", "407118", "galley")
    odile.touch("link", "Till")
    odile.touch("link", "Ways to pay")
    odile.touch("button", "Switch off Cheque")
    odile.expected = {422}
    odile.type("Called", "Cash")
    odile.type("Asks for", "Its number")
    odile.touch("button", "Add it")
    odile.sees("There is a way to pay called Cash already.")
    odile.expected = set()
    odile.type("Called", "Meal ticket")
    odile.touch("button", "Add it")
    odile.touch("button", "Earlier: Meal ticket")
    odile.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    assert odile.page.get_by_role("link", name="Cheque").count() == 0
    odile.touch("link", "Meal ticket")
    odile.type("Its number", "m 12")
    odile.touch("button", "Record €28.10 already taken by meal ticket")
    odile.sees("Recorded, not charged: meal ticket m 12")
    in_balance(running)


def test_a_receipt_by_mail_by_preference_and_as_a_gift(clerk: MakeClerk, running: Running) -> None:
    """Marguerite's receipt goes by e-mail from now on: closing her next ticket sends it by itself."""
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/past?q=2143")
    desk.touch("link", "Print or send")
    desk.expected = {422}
    desk.type("E-mail address", "dorte at home")
    desk.touch("button", "Send it by e-mail")
    desk.sees("is no e-mail address")
    assert desk.page.get_by_label("E-mail address").input_value() == "dorte at home"
    desk.expected = set()
    desk.type("E-mail address", "dorte@example.test")
    desk.touch("button", "Send it by e-mail")
    desk.sees("Sent. It is in the outbox")
    desk.touch("button", "Print a gift receipt, without prices")
    desk.sees("Printed.")
    desk.touch("button", "Printed", exact=True)
    with desk.page.expect_download() as download:
        desk.page.get_by_role("link", name="PDF").click()
    assert download.value.suggested_filename == "receipt-2143.pdf"
    house = running.look()
    *_, mail = house.devices.post.mails()  # after the statements of the first of June
    paper = house.devices.printer.shown()
    house.connection.close()
    assert "To: dorte@example.test" in mail
    assert paper.count("Gift receipt") == 1


def test_the_guests_display_follows_the_till(clerk: MakeClerk, running: Running) -> None:
    """Lines, sum, change, thanks, live on a second screen; a note for staff is not on it."""
    server, guests = clerk(), clerk()
    server.sign_in()
    guests.sign_in()
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    guests.page.goto(f"{running.url}/display?till=galley")
    server.page.get_by_role("button", name="5 %").first.click()
    server.settle()
    guests.page.get_by_label(re.compile("^To pay €29.5")).wait_for()
    guests.check()
    assert "Crab toastie" in guests.page.content()
    server.page.get_by_role("button", name="No tip").click()
    server.settle()
    server.touch("button", "€30.00 €1.90 back")
    guests.page.get_by_label("Change €1.90").wait_for()
    guests.check()
    server.touch("button", "Change given, free")
    guests.page.get_by_role("heading", name="Thank you").wait_for()
    guests.check()


def test_the_new_pages_in_one_hand(clerk: MakeClerk, running: Running) -> None:
    """At phone width: no sideways scroll, no accessibility violation, forms folded open; also when nothing fits."""
    desk, ticket = wren(clerk, width=390, height=844), running.ticket("D1")
    past = _ticket(running, 2127)
    desk.expected = {422}
    for path in (
        f"/past?chosen={past}",
        "/past?since=25:00",
        "/till/match",
        "/set-up/tenders",
        "/display?till=galley",
        f"/tickets/{ticket}?view=pay&way=keyed+card",
        f"/tickets/{ticket}?view=pay&amount=99",
        f"/tickets/{ticket}?view=pick&item=unlisted",
        f"/tickets/{ticket}?view=pick&item=stored",
    ):
        desk.page.goto(f"{running.url}{path}")
        desk.page.evaluate("document.querySelectorAll('details').forEach((one) => { one.open = true })")
        desk.check()


@pytest.mark.acts
def test_statements_of_all_accounts(clerk: MakeClerk, running: Running) -> None:
    """The house goes away while they are made: what was made stays made, and the rest follows, each once."""
    boss = clerk()
    boss.sign_in("odile", "407118", "landing")
    boss.touch("link", "People", exact=True)
    boss.touch("link", "What customers owe")
    boss.cut = True
    boss.page.get_by_role("button", name="Make and send them").click()
    boss.acts += 1
    boss.page.wait_for_url("**/accounts/statements/2")
    running.kill()
    running.start()
    boss.sees("All 3 statements are made")
    boss.page.reload()
    boss.settle()
    boss.cut = False
    boss.faults.clear()
    boss.counted("statements of all accounts, from Today", 3)
    boss.sees(re.compile("sent to boats@saltpan.example"))
    boss.sees("on paper: there is no e-mail address")
    boss.check()
    with boss.page.expect_download() as got:
        boss.page.get_by_role("link", name="PDF of all that go out on paper").click()
    assert got.value.suggested_filename == "statements-2.pdf"
    house = running.look()
    sent = house.connection.execute(
        "SELECT count(*), count(DISTINCT w.sheet) FROM statement_run_row w JOIN outbox o ON o.id = w.sheet"
        " JOIN outbox s ON s.about = o.about AND s.id >= o.id WHERE w.run = 2"
    ).fetchone()
    house.connection.close()
    assert tuple(sent) == (2, 2)


@pytest.mark.acts
def test_a_statement_is_sent(clerk: MakeClerk, running: Running) -> None:
    """Three acts from Today; a range that is none keeps what was typed; on a phone too."""
    desk = wren(clerk)
    desk.page.goto(running.url)
    desk.acts = 0
    desk.type(FINDER, "020 910 0120", enter=True)
    desk.touch("link", "Statement")
    desk.touch("button", "Send the statement")
    desk.sees("The statement goes to theo@brandvold.example.")
    desk.counted("statement sent, from Today", 3)
    killed_in_between(desk, running)
    desk.expected = {422}
    desk.type("From", "2026-06-20")
    desk.touch("button", "Show")
    desk.sees("The first date is after the last one.")
    assert desk.page.get_by_label("From", exact=True).input_value() == "2026-06-20"
    desk.page.set_viewport_size({"width": 390, "height": 844})
    desk.expected = set()
    desk.page.goto(f"{running.url}/people/5/statement")
    desk.sees("Owed at the end")
    desk.check()
    with desk.page.expect_download() as got:
        desk.page.get_by_role("link", name="PDF").click()
    assert got.value.suggested_filename == "statement-theo-brandvold-2026-06-13.pdf"
