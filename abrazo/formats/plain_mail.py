"""An e-mail of text alone (RFC 5322)."""

from __future__ import annotations

from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime


def plain_mail(subject: str, body: str, to: str, at: datetime) -> str:
    """The message as it goes to the post."""
    mail = EmailMessage()
    mail["Subject"] = subject
    mail["From"] = "accounts@house.example"
    mail["To"] = to
    mail["Date"] = format_datetime(at)
    mail.set_content(body)
    return mail.as_string()
