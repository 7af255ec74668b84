"""The connections that a house takes: those that never finish what they ask for are closed, and there is an end to how
many there are.

Rules here
- what begins a request ends its headers within ten seconds
- live streams wait for long and are not counted
"""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEADERS_WITHIN = 10.0  # seconds
MOST_CONNECTIONS = 400
STREAMS = ("/live", "/listen")  # how addresses of live streams end


class Connection(HttpToolsProtocol):
    """One connection; its server's own settings time only those that are idle between two requests."""

    _too_late: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """A new connection; closed at once where there are too many."""
        super().connection_made(transport)
        if len(self.connections) > MOST_CONNECTIONS and waiting(self.connections) > MOST_CONNECTIONS:
            transport.close()
            return
        self._begin_waiting()

    def data_received(self, data: bytes) -> None:
        """Bytes came: the first of a request, more of its headers, or of its body."""
        before = self.cycle
        if self._too_late is None and (before is None or before.response_complete):
            self._begin_waiting()
        super().data_received(data)
        if self.cycle is not before:  # the headers are whole
            self._end_waiting()

    def connection_lost(self, exc: Exception | None) -> None:
        """The connection is gone."""
        self._end_waiting()
        super().connection_lost(exc)

    def _begin_waiting(self) -> None:
        self._too_late = self.loop.call_later(HEADERS_WITHIN, self._close)

    def _end_waiting(self) -> None:
        if self._too_late is not None:
            self._too_late.cancel()
            self._too_late = None

    def _close(self) -> None:
        self._too_late = None
        if self.transport is not None and not self.transport.is_closing():
            self.transport.close()


def waiting(connections: set[Any]) -> int:
    """How many connections there are that are no live streams."""
    paths = (str((getattr(one, "scope", None) or {}).get("path", "")) for one in connections)
    return sum(not path.endswith(STREAMS) for path in paths)
