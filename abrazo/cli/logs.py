"""What the processes of a house write down for whoever runs it: sentences, or one JSON object a line."""

from __future__ import annotations

import json
import logging
from datetime import UTC, datetime
from enum import Enum


class LogForm(Enum):
    """How it is written."""

    TEXT = "text"
    JSON = "json"


MOST = 60  # lines a minute; of requests there is no bound


def set_up_logs(form: LogForm) -> None:
    """Write to standard error from now on; with JSON each request has its line."""
    if form is LogForm.TEXT:
        logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    else:
        handler = logging.StreamHandler()
        handler.setFormatter(JsonLines())
        logging.basicConfig(level=logging.WARNING, handlers=[handler])
        logging.getLogger("abrazo.access").setLevel(logging.INFO)
    for one in logging.getLogger().handlers:
        one.addFilter(_Bounded())
    logging.getLogger("uvicorn.error").addFilter(_Bounded())


class JsonLines(logging.Formatter):
    """One JSON object a line: when, how grave, of what, what is said, and facts by name."""

    def format(self, record: logging.LogRecord) -> str:
        """The line."""
        at = datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds")
        said = {"at": at, "level": record.levelname.lower(), "of": record.name, "message": record.getMessage()}
        said |= getattr(record, "facts", {})
        if record.exc_info:
            said["trace"] = self.formatException(record.exc_info)
        return json.dumps(said, ensure_ascii=False)


class _Bounded(logging.Filter):
    """At most so many lines a minute: whoever floods the house with nonsense must not fill its disk."""

    def __init__(self) -> None:
        super().__init__()
        self._minute, self._lines = 0, 0

    def filter(self, record: logging.LogRecord) -> bool:
        if record.name == "abrazo.access":
            return True
        minute = int(record.created // 60)
        if minute != self._minute:
            self._minute, self._lines = minute, 0
        self._lines += 1
        return self._lines <= MOST
