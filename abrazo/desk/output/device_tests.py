"""'Send a test': whether a printer, drawer, mail server or text service of the house answers, asked at once."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.carriers import mail_of, texts_of
from abrazo.desk.permissions import Right, need
from abrazo.desk.setup.equipment import PRINTERS
from abrazo.desk.setup.things import one_of
from abrazo.devices.drivers.escpos_tcp import TcpPrinter
from abrazo.devices.ports import DeviceFault
from abrazo.formats.email_address import read_email
from abrazo.formats.escpos import paper_bytes
from abrazo.formats.phone import read_phone
from abrazo.formats.plain_mail import Letter, plain_mail
from abrazo.words import phrases as w

PRINTER, DRAWER, MAIL, TEXT = "printer", "drawer", "mail", "text"
TESTS = (PRINTER, DRAWER, MAIL, TEXT)


def send_test(house: House, actor: Actor, what: str, to: str) -> None:
    """Send one: `to` is a printer's id, an e-mail address or a phone number. Refused with why it failed."""
    need(actor, Right.SET_UP)
    if house.settings.practice:
        raise Refused(Code.PRACTICE_REACHES_NOTHING, f"test_{what}")
    if house.open_day() is not None:
        with noting(house) as note:
            note(actor, Kind.DEVICE_TESTED, device=what)
    try:
        _send(house, what, to)
    except DeviceFault as fault:
        raise Refused(Code.TEST_FAILED, f"test_{what}", why=str(fault)) from None
    except Refused as refusal:
        raise refusal.at(f"test_{what}") from None


def _send(house: House, what: str, to: str) -> None:
    title, body = house.say(w.TEST_TITLE), house.say(w.TEST_BODY, house=house.settings.name)
    if what == MAIL:
        letter = Letter(title, body, read_email(to), house.settings.name)
        mail_of(house).mail(0, plain_mail(letter, house.clock.now()))
    elif what == TEXT:
        texts_of(house).send(0, read_phone(to, house.settings.region, "to"), title, body)
    else:
        named = one_of(house, PRINTERS, to)
        printer = TcpPrinter(str(named["name"]), str(named["address"]))
        if what == DRAWER:
            printer.open("", title)
        else:
            printer.put(title, paper_bytes(body))
