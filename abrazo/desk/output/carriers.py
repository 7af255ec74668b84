"""What carries an outgoing sheet or message: a printer, mail server or text service of the house, else the stand-in."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.desk.setup.equipment import PRINTERS, at_till
from abrazo.desk.setup.things import everything
from abrazo.devices.drivers.escpos_tcp import TcpPrinter
from abrazo.devices.drivers.http_texts import HttpTexts
from abrazo.devices.drivers.smtp_post import SmtpPost
from abrazo.devices.ports import Drawer, Mail, Printer, Texts


def network_printer(house: House, wanted: str, *, drawer: bool = False) -> TcpPrinter | None:
    """The printer on the network that prints for a till or place, or opens its drawer; None when there is none.

    Nobody reaches one in practice: a copy has its own stand-ins.
    """
    if house.settings.practice:
        return None
    for one in everything(house, PRINTERS).values():
        prints = one["prints"]
        if one["ended_at"] is None and isinstance(prints, list) and wanted in prints and (one["drawers"] or not drawer):
            return TcpPrinter(str(one["name"]), str(one["address"]))
    return None


def printer_of(house: House, wanted: str) -> Printer:
    """What prints for a till or place."""
    return network_printer(house, wanted) or house.devices.printer


def drawer_of(house: House, till: str) -> Drawer:
    """What opens a till's drawer."""
    return network_printer(house, at_till(till), drawer=True) or house.devices.drawers


def mail_of(house: House) -> Mail:
    """What sends e-mail."""
    s = house.settings
    if not s.mail_server or s.practice:
        return house.devices.post
    return SmtpPost(s.mail_server, s.mail_security, s.mail_user, s.mail_password, s.mail_from)


def texts_of(house: House) -> Texts:
    """What sends text messages."""
    s = house.settings
    return HttpTexts(s.text_address, s.text_token) if s.text_address and not s.practice else house.devices.post
