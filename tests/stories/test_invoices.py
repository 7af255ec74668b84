"""A company's member puts a sum on its account: the invoice goes out, a refund makes a credit note; one on request."""

from __future__ import annotations

import io
import re

import facturx
import pytest

from tests.stories.desk import MakeClerk, cash, code_of, in_balance, killed_in_between, scanned, wren
from tests.stories.house import Running
from tests.stories.test_paying import FINDER


@pytest.mark.acts
def test_a_company_gets_its_invoice_and_a_credit_note(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.type(FINDER, "rui albers", enter=True)
    desk.touch("link", re.compile(r"^Rui Albers \(020\)"), check=False)
    desk.touch("button", "A sale for Rui", check=False)
    scanned(desk, code_of(running, "Sun hat"))
    scanned(desk, code_of(running, "Kelp soap"))
    desk.touch("link", re.compile("^Pay €29.50"), check=False)
    desk.touch("link", re.compile("^On account"), check=False)
    desk.touch("button", re.compile("^Put €29.50 on Saltpan Rowers"), check=False)
    desk.sees("Saltpan Rowers wants a purchase reference for this.")
    desk.type("Their reference", "PO 4500")
    desk.touch("button", re.compile("^Put €29.50 on Saltpan Rowers"), check=False)
    desk.touch("button", "Close the ticket", exact=True)
    desk.type(FINDER, "saltpan rowers", enter=True)
    desk.touch("link", re.compile(r"^Saltpan Rowers \(020\)"), check=False)
    desk.touch("link", re.compile("I-7"), check=False)
    for said in (
        "Invoice I-7",
        "Saltpan Rowing Club CLG",
        "PO 4500",
        "€29.50 of it is still owed.",
        "VAT 20 % on €24.58",
    ):
        desk.sees(said)
    desk.type("E-mail", "nobody at all")
    desk.touch("button", "Send it by e-mail")
    desk.sees("is no e-mail address")
    desk.type("E-mail", "office@saltpan.example")
    desk.touch("button", "Send it by e-mail")
    desk.sees("office@saltpan.example")
    paper = desk.page.request.get(f"{desk.page.url.partition('?')[0]}/invoice.pdf").body()
    name, data = facturx.get_xml_from_pdf(io.BytesIO(paper))
    assert name == "factur-x.xml" and b"<ram:DuePayableAmount>29.50<" in data
    killed_in_between(desk, running)
    boss = clerk(1280, 800)
    boss.sign_in("odile", "407118", "landing")
    boss.page.goto(desk.page.url)
    boss.touch("link", re.compile("^Ticket 2"), check=False)
    boss.page.get_by_text("Refund lines or an amount").click()
    form = boss.page.locator("form", has=boss.page.get_by_role("button", name="Refund it the way it was paid"))
    form.get_by_label(re.compile("Kelp soap")).check()
    form.get_by_label("Why").fill("torn wrapper")
    boss.touch("button", "Refund it the way it was paid")
    boss.touch("link", re.compile("^Credit note C-1"), check=False)
    for said in ("Credit note C-1", "torn wrapper", "€7.50"):
        boss.sees(said)
    desk.page.reload()
    desk.sees("€22.00 of it is still owed.")
    in_balance(running)


def test_an_invoice_on_request_for_somebody_unknown(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.touch("button", re.compile("^Counter sale"), check=False)
    scanned(desk, code_of(running, "Sun hat"))
    desk.touch("link", re.compile("^Pay €22.00"), check=False)
    cash(desk, "22", "^Take €22.00")
    desk.touch("link", "E-mail, text, invoice")
    desk.touch("link", "Make an invoice", check=False)
    desk.type("Address", "Quay 1")
    desk.touch("button", re.compile("make the invoice", re.I))
    desk.sees("to whom")
    desk.type("Name or company", "Tern & Daughters")
    desk.type("Country, two letters", "Ireland")
    desk.touch("button", re.compile("make the invoice", re.I))
    assert desk.page.get_by_label("Address").input_value() == "Quay 1"
    desk.type("Country, two letters", "ie")
    desk.touch("button", re.compile("make the invoice", re.I))
    desk.sees("Tern & Daughters")
    desk.sees("Invoice I-7")
    in_balance(running)
