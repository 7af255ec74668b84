"""Receipt printers reached over TCP (commonly port 9100); what they are told is ESC/POS, made by python-escpos.

What cannot be reached, or says that it has no paper, is Unreachable: nothing was printed. A connection that breaks
while a sheet goes out is NoAnswer: it may have been printed. One that does not tell its state prints all the same.
"""

from __future__ import annotations

import socket
from collections.abc import Iterator
from contextlib import contextmanager

from abrazo.devices.ports import NoAnswer, Unreachable

PORT = 9100
CONNECT, ANSWER = 1.0, 0.7  # seconds
NO_PAPER, PAPER_STATUS = 0x60, b"\x10\x04\x04"  # DLE EOT 4: bits 5 and 6 of the answer say that paper is out
PIN = 2  # of the connector at which a drawer commonly hangs


class TcpPrinter:
    """A printer at an address, host or host:port; a connection for each sheet, so that several tills share one."""

    def __init__(self, name: str, address: str) -> None:
        self.name = name
        host, _, port = address.rpartition(":") if ":" in address else (address, "", "")
        self._at = (host, int(port or PORT))

    def put(self, title: str, data: bytes) -> None:
        """Print ESC/POS bytes. Raises Unreachable or NoAnswer."""
        with self._reached() as printer:
            paper = self._paper(printer)
            if paper == NO_PAPER:
                raise Unreachable(f"{self.name} is out of paper")
            self._tell(printer, data)
            if paper is not None:  # it has read everything when it answers again
                self._paper(printer)

    def open(self, till: str, why: str) -> None:
        """Let the drawer at the printer spring open. Raises Unreachable or NoAnswer."""
        with self._reached() as printer:
            self._tell(printer, _kick())

    @contextmanager
    def _reached(self) -> Iterator[socket.socket]:
        try:
            printer = socket.create_connection(self._at, CONNECT)
        except OSError as fault:
            raise Unreachable(f"{self.name} cannot be reached") from fault
        with printer:
            printer.settimeout(ANSWER)
            yield printer

    def _tell(self, printer: socket.socket, data: bytes) -> None:
        try:
            printer.sendall(data)
        except OSError as fault:
            raise NoAnswer(f"{self.name} broke off") from fault

    def _paper(self, printer: socket.socket) -> int | None:
        """What the printer says of its paper, 0 for some; None when it says nothing."""
        self._tell(printer, PAPER_STATUS)
        try:
            said = printer.recv(16)
        except TimeoutError:
            return None
        except OSError as fault:
            raise NoAnswer(f"{self.name} broke off") from fault
        return said[-1] & NO_PAPER if said else None


def _kick() -> bytes:
    from escpos.printer import Dummy  # here, because it takes half a second to load

    printer = Dummy()
    printer.cashdraw(PIN)
    return bytes(printer.output)
