"""The stand-in for e-mail and text messages: an append-only file, and .eml files in a folder beside it."""

from __future__ import annotations

import json
import os
from pathlib import Path

from abrazo.devices.ports import Unreachable
from abrazo.devices.simulator.shared import SharedMemory, append, told


def mail_folder(file: Path) -> Path:
    """The folder of the e-mails beside the file of messages."""
    return file.with_suffix(".mail")


class StandInPost:
    """Delivers to a file; can be told that its line is down."""

    line_down = told("line down")

    def __init__(self, file: Path, memory: SharedMemory | None = None) -> None:
        self.memory = memory or SharedMemory()
        self._file = file

    def send(self, number: int, recipient: str, title: str, body: str) -> None:
        """Send a text message. Raises Unreachable while the line is down."""
        if self.line_down:
            raise Unreachable("messages cannot be sent: the line is down")
        append(self._file, json.dumps({"to": recipient, "title": title, "body": body}, ensure_ascii=False) + "\n")

    def mail(self, number: int, message: str) -> None:
        """Send an e-mail. Raises Unreachable while the line is down."""
        if self.line_down:
            raise Unreachable("messages cannot be sent: the line is down")
        folder = mail_folder(self._file)
        folder.mkdir(exist_ok=True)
        with (folder / f"{number:06d}.eml").open("w", encoding="utf-8") as file:
            file.write(message)
            file.flush()
            os.fsync(file.fileno())

    def mails(self) -> list[str]:
        """Every e-mail sent so far, oldest first."""
        return [file.read_text("utf-8") for file in sorted(mail_folder(self._file).glob("*.eml"))]

    def delivered(self) -> list[dict[str, str]]:
        """Everything delivered so far, oldest first."""
        if not self._file.exists():
            return []
        lines = self._file.read_text("utf-8").splitlines(keepends=True)
        return [json.loads(line) for line in lines if line.endswith("\n")]
