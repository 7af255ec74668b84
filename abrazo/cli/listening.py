"""The address at which a house answers: taken before anything else is done, so that what is in its way is said."""

from __future__ import annotations

import errno
import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager

PATIENCE = 2.0  # seconds: the page processes of a parent that was just killed may hold it for a moment longer
WHY_NOT = {
    errno.EADDRINUSE: "Another program answers at {address} already. Choose another port with --port.",
    errno.EACCES: "Port {port} is kept for the system. Choose one above 1023 with --port.",
}
NO_ADDRESS = "{host} is no address of this machine. Choose one of its own with --host; 0.0.0.0 is all of them."


class NotHeard(Exception):
    """Nothing can be heard at an address; says why, and what would do."""


@contextmanager
def listening(host: str, port: int) -> Iterator[socket.socket]:
    """The socket that listens there; who asks before a house is ready waits for it. Raises NotHeard."""
    heard = _listen(host, port)
    # else an answer waits 40 ms for the one after it
    heard.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    try:
        yield heard
    finally:
        heard.close()


def _listen(host: str, port: int) -> socket.socket:
    until = time.monotonic() + PATIENCE
    while True:
        try:
            return socket.create_server((host, port), family=socket.AF_INET6 if ":" in host else socket.AF_INET)
        except OSError as fault:
            if fault.errno != errno.EADDRINUSE or time.monotonic() > until:
                words = WHY_NOT.get(fault.errno or 0, NO_ADDRESS)
                raise NotHeard(words.format(host=host, port=port, address=f"{host}:{port}")) from None
        time.sleep(PATIENCE / 10)
