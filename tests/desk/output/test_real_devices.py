"""Devices of a house's own against independent servers: a TCP listener, an SMTP server of a package, an HTTP server."""

from __future__ import annotations

import dataclasses
import json
import socket
import ssl
import subprocess
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from email import message_from_bytes, policy
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any

import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import AuthResult

from abrazo.core.errors import Code, Refused
from abrazo.core.states import MailSecurity
from abrazo.desk.context import Devices
from abrazo.desk.output import device_tests, outbox
from abrazo.desk.output.outbox import Reach
from abrazo.desk.setup import house_settings
from abrazo.desk.setup.equipment import PRINTERS
from abrazo.desk.setup.house_settings import ONE, SETTINGS
from abrazo.desk.setup.thing_files import written
from abrazo.desk.setup.things import everything, latest_changes
from abrazo.desk.tickets import prep
from abrazo.devices.drivers.escpos_tcp import TcpPrinter
from abrazo.devices.drivers.http_texts import HttpTexts
from abrazo.devices.drivers.smtp_post import SmtpPost
from abrazo.devices.ports import DeviceFault, NoAnswer, Unreachable
from abrazo.formats.escpos import paper_bytes
from abrazo.formats.plain_mail import Letter, plain_mail
from abrazo.store import outbox as kept
from abrazo.worker.sender import Sender
from tests.desk.conftest import Desk
from tests.desk.setup.test_more_kinds import added
from tests.desk.test_both_houses import pay, sale

pytestmark = pytest.mark.filterwarnings("ignore:Requiring AUTH while not requiring TLS")
STATUS = b"\x10\x04\x04"  # DLE EOT 4 of the ESC/POS command reference (from memory): paper roll sensors
KICK = b"\x1bp"  # ESC p: pulse to the drawer connector


class Listener:
    """What answers at a TCP port as a printer does: it keeps what it hears, and tells of its paper."""

    def __init__(self, paper: bytes = b"\x12", *, breaks_off: bool = False) -> None:
        self.heard, self.paper, self._breaks_off = bytearray(), paper, breaks_off
        self._server = socket.create_server(("127.0.0.1", 0))
        self.address = f"127.0.0.1:{self._server.getsockname()[1]}"
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        while True:
            try:
                connection, _ = self._server.accept()
            except OSError:
                return
            with connection:
                while data := connection.recv(4096):
                    self.heard += data.replace(STATUS, b"")
                    if self._breaks_off and len(data) > len(STATUS):
                        connection.setsockopt(socket.SOL_SOCKET, socket.SO_LINGER, b"\x01\x00\x00\x00\x00\x00\x00\x00")
                        break
                    if STATUS in data and self.paper:
                        connection.sendall(self.paper)

    def hears(self, wanted: bytes) -> bool:
        """Whether it hears something within two seconds: a pulse is not answered."""
        return waited(lambda: wanted in self.heard)

    def close(self) -> None:
        with suppress(OSError):
            self._server.shutdown(socket.SHUT_RDWR)
        self._server.close()


Listening = Callable[..., Listener]


@pytest.fixture
def listening() -> Iterator[Listening]:
    """Makes listeners, which are closed in the end."""
    made = list[Listener]()

    def make(paper: bytes = b"\x12", *, breaks_off: bool = False) -> Listener:
        made.append(Listener(paper, breaks_off=breaks_off))
        return made[-1]

    yield make
    for one in made:
        one.close()


def nobody() -> str:
    """An address at which nothing listens."""
    with socket.create_server(("127.0.0.1", 0)) as server:
        return f"127.0.0.1:{server.getsockname()[1]}"


def test_a_printer_prints_tells_of_its_paper_and_kicks_the_drawer(listening: Listening) -> None:
    listener, sheet = listening(), paper_bytes("Total €4.20", "T12")
    printer = TcpPrinter("Bar", listener.address)
    printer.put("Receipt", sheet)
    assert bytes(listener.heard) == sheet
    printer.open("galley", "cash")
    assert listener.hears(sheet + KICK)
    listener.paper = b"\x72"
    with pytest.raises(Unreachable, match="out of paper"):
        printer.put("Receipt", sheet)
    assert bytes(listener.heard).count(sheet) == 1
    listener.paper = b""  # one that never says anything prints all the same
    printer.put("Receipt", sheet)
    assert waited(lambda: bytes(listener.heard).count(sheet) == 2)  # nothing says when it has read it
    listener.close()
    for address in (listener.address, nobody()):
        with pytest.raises(Unreachable):
            TcpPrinter("Bar", address).put("Receipt", sheet)
    with pytest.raises(NoAnswer):
        TcpPrinter("Bar", listening(breaks_off=True).address).put("Receipt", sheet)


class Inbox:
    """What an SMTP server took in; a recipient `nobody@…` it refuses."""

    def __init__(self) -> None:
        self.letters: list[Any] = []

    async def handle_RCPT(
        self, server: Any, session: Any, envelope: Any, address: str, options: Any
    ) -> str:  # as aiosmtpd calls it
        if address.startswith("nobody@"):
            return "550 no such mailbox"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: Any, session: Any, envelope: Any) -> str:  # as aiosmtpd calls it
        self.letters.append(
            (envelope.mail_from, envelope.rcpt_tos, message_from_bytes(envelope.content, policy=policy.SMTP))
        )
        return "250 taken"


@contextmanager
def mail_server(inbox: Inbox, context: ssl.SSLContext | None = None, password: str = "") -> Iterator[str]:
    def check(*given: Any) -> AuthResult:
        return AuthResult(success=given[-1].password == password.encode())

    more: dict[str, Any] = (
        {"authenticator": check, "auth_required": True, "auth_require_tls": context is not None} if password else {}
    )
    port = int(nobody().partition(":")[2])
    controller = Controller(inbox, "127.0.0.1", port, tls_context=context, **more)
    controller.start()
    try:
        yield f"localhost:{port}"
    finally:
        controller.stop()


def letter(to: str) -> str:
    from datetime import UTC, datetime

    return plain_mail(Letter("Receipt 12", "Four euros", to, "The Low Door"), datetime(2026, 6, 13, tzinfo=UTC))


def test_mail_goes_out_in_the_houses_name_or_says_why_not() -> None:
    inbox = Inbox()
    with mail_server(inbox, password="kelp") as server:
        post = SmtpPost(server, MailSecurity.NONE, "house", "kelp", "till@low-door.example")
        post.mail(7, letter("ada@example.org"))
        ((sender, to, found),) = inbox.letters
        assert (sender, to) == ("till@low-door.example", ["ada@example.org"])
        assert (found["From"], found["Subject"]) == ("The Low Door <till@low-door.example>", "Receipt 12")
        assert found["Message-ID"] == "<abrazo-7@low-door.example>"
        with pytest.raises(DeviceFault, match="refuses it") as refused:
            post.mail(8, letter("nobody@example.org"))
        assert not isinstance(refused.value, Unreachable)
        with pytest.raises(Unreachable, match="does not let the house in"):
            SmtpPost(server, MailSecurity.NONE, "house", "wrong", "").mail(9, letter("ada@example.org"))
        with pytest.raises(Unreachable):  # it offers no TLS: nothing goes out without
            SmtpPost(server, MailSecurity.STARTTLS, "house", "kelp", "").mail(9, letter("ada@example.org"))
    with pytest.raises(Unreachable, match="cannot be reached"):
        post.mail(10, letter("ada@example.org"))
    assert len(inbox.letters) == 1


def test_mail_over_tls_only_to_a_server_that_is_who_it_says(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    key, certificate = tmp_path / "key.pem", tmp_path / "certificate.pem"
    made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-keyout", str(key), "-out", str(certificate),
            "-days", "2", "-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost"]  # fmt: skip
    subprocess.run(made, check=True, capture_output=True)
    context, inbox = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER), Inbox()
    context.load_cert_chain(certificate, key)
    with mail_server(inbox, context, "kelp") as server:
        post = SmtpPost(server, MailSecurity.STARTTLS, "house", "kelp", "till@low-door.example")
        with pytest.raises(Unreachable, match="does not let the house in"):
            post.mail(1, letter("ada@example.org"))  # nobody vouches for its certificate
        monkeypatch.setenv("SSL_CERT_FILE", str(certificate))
        post.mail(2, letter("ada@example.org"))
    assert len(inbox.letters) == 1


class Texts(BaseHTTPRequestHandler):
    taken: list[tuple[str, dict[str, str]]] = []
    status = 202

    def do_POST(self) -> None:  # as http.server calls it
        body = json.loads(self.rfile.read(int(self.headers["content-length"])))
        Texts.taken.append((self.headers["authorization"], body))
        self.send_response(Texts.status)
        self.end_headers()

    def log_message(self, *_: object) -> None:
        """Nothing is said."""


@pytest.fixture
def texts() -> Iterator[str]:
    server = HTTPServer(("127.0.0.1", 0), Texts)
    Texts.taken, Texts.status = [], 202
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/messages"
    server.shutdown()
    server.server_close()


def test_text_messages_are_posted_under_a_reference(texts: str) -> None:
    HttpTexts(texts, "sesame").send(5, "+353209100199", "Ready", "Your sail is ready")
    assert Texts.taken == [
        (
            "Bearer sesame",
            {"reference": "abrazo-5", "to": "+353209100199", "title": "Ready", "body": "Your sail is ready"},
        )
    ]
    for status, fault in ((503, Unreachable), (422, DeviceFault)):
        Texts.status = status
        with pytest.raises(fault) as found:
            HttpTexts(texts).send(6, "+353209100199", "Ready", "")
        assert isinstance(found.value, Unreachable) == (status == 503)
    with pytest.raises(Unreachable):
        HttpTexts(f"http://{nobody()}/").send(7, "+353209100199", "Ready", "")


def test_each_till_and_place_has_its_printer_and_what_is_silent_holds_nothing_up(
    desk: Desk, texts: str, listening: Listening
) -> None:
    bar, kitchen, house = listening(), listening(), desk.house
    till = desk.tamsin.till.id
    facts = {"name": ["Bar"], "address": [bar.address], "prints": [f"till {till}"], "drawers": ["yes"]}
    added(desk, PRINTERS, facts)
    added(desk, PRINTERS, {"name": ["Kitchen"], "address": [kitchen.address], "prints": ["place kitchen"]})
    number = sale(desk, [desk.of.food])
    prep.send(house, desk.tamsin, desk.on(number, desk.key()), ())
    outbox.send_waiting(house)
    assert b"Kitchen" in kitchen.heard and not bar.heard
    pay(desk, number, close=False)
    assert outbox.open_drawer(house, desk.tamsin, "cash") and bar.hears(KICK)
    payer = desk.whole(number).payers[0].id
    outbox.print_receipt(house, desk.tamsin, number, payer, desk.key())
    assert str(desk.whole(number).head.number).encode() in bar.heard
    before = len(bar.heard)
    kitchen.paper = b"\x72"
    second = sale(desk, [desk.of.food])
    prep.send(house, desk.tamsin, desk.on(second, desk.key()), ())
    pay(desk, second, close=False)
    outbox.print_receipt(
        house, desk.tamsin, second, desk.whole(second).payers[0].id, desk.key()
    )  # no word of the kitchen
    assert len(bar.heard) > before and len(kept.waiting(house.connection)) == 1
    kitchen.paper = b"\x12"
    heard = len(kitchen.heard)
    desk.clock.on(3)
    outbox.print_receipt(house, desk.boss, number, payer, desk.key())
    assert len(kitchen.heard) == heard  # what is left over elsewhere makes nobody wait: a thread sends it
    outbox.send_waiting(house, reach=Reach.FAR)
    assert len(kitchen.heard) > heard
    bar.paper = b"\x72"
    with pytest.raises(Refused) as refusal:
        outbox.print_receipt(house, desk.boss, second, desk.whole(second).payers[0].id, desk.key())
    assert refusal.value.code == Code.RECEIPT_WAITS
    bar.paper = kitchen.paper = b"\x12"
    assert outbox.send_waiting(house) == 0
    house_settings.decide(house, desk.boss, "text_address", texts)
    house_settings.decide(house, desk.boss, "text_token", "sesame")
    outbox.text_receipt(house, desk.tamsin, number, payer, "020 910 0199", desk.key())
    assert Texts.taken == []  # a page does not wait for it
    outbox.send_waiting(house, reach=Reach.FAR)
    assert [said for said, _ in Texts.taken] == ["Bearer sesame"]


def test_a_thread_of_its_own_reaches_what_is_far(desk: Desk, texts: str, listening: Listening) -> None:
    bar = listening(b"\x72")
    added(desk, PRINTERS, {"name": ["Bar"], "address": [bar.address], "prints": [f"till {desk.tamsin.till.id}"]})
    house_settings.decide(desk.house, desk.boss, "text_address", texts)
    number = sale(desk, [desk.of.food])
    pay(desk, number, close=False)
    payer = desk.whole(number).payers[0].id
    outbox.text_receipt(desk.house, desk.tamsin, number, payer, "020 910 0199", desk.key())
    with pytest.raises(Refused):
        outbox.print_receipt(desk.house, desk.tamsin, number, payer, desk.key())
    bar.paper = b"\x12"
    database = desk.folder / "house.db"
    desk.clock.on(3)  # a page sends what it printed itself: only what is left over goes out here
    sender = Sender(database, Devices.beside(database))
    sender.house = dataclasses.replace(sender.house, clock=desk.clock)
    sender.start()
    try:
        assert bar.hears(str(desk.whole(number).head.number).encode())
        assert waited(lambda: len(Texts.taken) == 1) and waited(lambda: not kept.waiting(desk.house.connection))
    finally:
        sender.stop()


def waited(holds: Callable[[], bool]) -> bool:
    """Whether something holds within four seconds."""
    for _ in range(400):
        if holds():
            return True
        time.sleep(0.01)
    return False


def test_a_test_says_whether_it_came_and_secrets_are_never_shown(desk: Desk, listening: Listening) -> None:
    house, inbox, bar = desk.house, Inbox(), listening()
    ref = added(desk, PRINTERS, {"name": ["Bar"], "address": [bar.address], "prints": ["place bar"]})
    device_tests.send_test(house, desk.boss, device_tests.PRINTER, ref)
    device_tests.send_test(house, desk.boss, device_tests.DRAWER, ref)
    assert bar.hears(b"This is a test") and bar.hears(KICK)
    bar.close()
    with pytest.raises(Refused, match="test_failed"):
        device_tests.send_test(house, desk.boss, device_tests.PRINTER, ref)
    with mail_server(inbox, password="kelp") as server:
        for id, value in (("mail_server", server), ("mail_security", "none"), ("mail_user", "house"),
                          ("mail_password", "kelp"), ("mail_from", "till@low-door.example")):  # fmt: skip
            house_settings.decide(house, desk.boss, id, value)
        house.forget()
        device_tests.send_test(house, desk.boss, device_tests.MAIL, "ada@example.org")
    assert [to for _, to, _ in inbox.letters] == [["ada@example.org"]]
    with pytest.raises(Refused) as refusal:
        device_tests.send_test(house, desk.boss, device_tests.MAIL, "ada@example.org")
    assert (refusal.value.code, refusal.value.where) == (Code.TEST_FAILED, "test_mail")
    with pytest.raises(Refused) as refusal:
        device_tests.send_test(house, desk.tamsin, device_tests.MAIL, "ada@example.org")
    assert refusal.value.code == Code.RIGHT_SET_UP
    assert everything(house, SETTINGS)[ONE]["mail_password"] == ""
    assert "kelp" not in repr(latest_changes(house)) + repr(written(house, SETTINGS))
    for address in ("printer 1", "host:99999", "a:b", ""):
        with pytest.raises(Refused) as refusal:
            added(desk, PRINTERS, {"name": ["Yard"], "address": [address], "prints": ["place bar"]})
        assert refusal.value.where == "address"
