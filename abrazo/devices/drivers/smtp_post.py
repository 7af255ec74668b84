"""E-mail by SMTP (RFC 5321), with TLS and sign-in as the server wants them.

What cannot be reached or signed in to is Unreachable: nothing was sent. What the server refuses, or a connection that
breaks off, is a fault that somebody looks at: it is not sent again by itself.
"""

from __future__ import annotations

import smtplib
import ssl
from dataclasses import dataclass
from email import message_from_string, policy
from email.utils import formataddr, parseaddr

from abrazo.core.states import MailSecurity
from abrazo.devices.ports import DeviceFault, NoAnswer, Unreachable

PATIENCE = 10.0  # seconds
PORTS = {MailSecurity.STARTTLS: 587, MailSecurity.TLS: 465, MailSecurity.NONE: 25}


@dataclass(frozen=True, slots=True)
class SmtpPost:
    """A mail server, host or host:port; `user` empty: without sign-in; `sender` in whose name e-mail goes out."""

    server: str
    security: MailSecurity
    user: str = ""
    password: str = ""
    sender: str = ""

    def mail(self, number: int, message: str) -> None:
        """Send an e-mail, under our number for it."""
        letter = message_from_string(message, policy=policy.SMTP)
        if self.sender:
            name = parseaddr(str(letter["From"]))[0]
            letter.replace_header("From", formataddr((name, self.sender)))
        if "Message-ID" not in letter:
            domain = (self.sender or "house.example").rpartition("@")[2]
            letter["Message-ID"] = f"<abrazo-{number}@{domain}>"
        connection = self._signed_in()
        try:
            connection.send_message(letter)
        except smtplib.SMTPServerDisconnected as fault:
            raise NoAnswer("the mail server broke off") from fault
        except smtplib.SMTPException as fault:
            raise DeviceFault(f"the mail server refuses it: {fault}") from fault
        except OSError as fault:
            raise NoAnswer("the mail server broke off") from fault
        finally:
            _leave(connection)

    def _signed_in(self) -> smtplib.SMTP:
        host, _, port = self.server.rpartition(":") if ":" in self.server else (self.server, "", "")
        context = ssl.create_default_context()
        at = int(port or PORTS[self.security])
        try:
            if self.security is MailSecurity.TLS:
                connection: smtplib.SMTP = smtplib.SMTP_SSL(host, at, timeout=PATIENCE, context=context)
            else:
                connection = smtplib.SMTP(host, at, timeout=PATIENCE)
        except (OSError, smtplib.SMTPException) as fault:
            raise Unreachable("the mail server cannot be reached") from fault
        try:
            if self.security is MailSecurity.STARTTLS:
                connection.starttls(context=context)
            if self.user:
                connection.login(self.user, self.password)
        except (OSError, smtplib.SMTPException) as fault:
            _leave(connection)
            raise Unreachable(f"the mail server does not let the house in: {fault}") from fault
        return connection


def _leave(connection: smtplib.SMTP) -> None:
    try:
        connection.quit()
    except (OSError, smtplib.SMTPException):
        connection.close()
