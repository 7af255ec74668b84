"""An e-mail of text, with files beside it (RFC 5322)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime, formataddr

SENDER = "accounts@house.example"
TYPES = {"pdf": ("application", "pdf"), "csv": ("text", "csv"), "xml": ("application", "xml")}


@dataclass(frozen=True, slots=True)
class Letter:
    """What is sent: text, in the name of a house, with files as (name, bytes) of the types that are known here."""

    subject: str
    body: str
    to: str
    house: str = ""
    files: tuple[tuple[str, bytes], ...] = ()


def plain_mail(letter: Letter, at: datetime) -> str:
    """The message as it goes to the post."""
    mail = EmailMessage()
    mail["Subject"] = letter.subject
    mail["From"] = formataddr((letter.house, SENDER)) if letter.house else SENDER
    mail["To"] = letter.to
    mail["Date"] = format_datetime(at)
    mail.set_content(letter.body)
    for name, data in letter.files:
        kind, subtype = TYPES[name.rpartition(".")[2]]
        mail.add_attachment(data, maintype=kind, subtype=subtype, filename=name)
    return mail.as_string()
