"""E-mail addresses as people type them (RFC 5321 and 6531), by the email-validator library."""

from __future__ import annotations

from email_validator import EmailNotValidError, validate_email

from abrazo.core.errors import Code, Refused


def read_email(text: str, where: str = "email") -> str:
    """An address, its domain in small letters. Refused when it is none; whether somebody reads it is not asked."""
    plain = text.strip()
    try:
        return validate_email(plain, check_deliverability=False, test_environment=True).normalized
    except EmailNotValidError:
        raise Refused(Code.NOT_EMAIL, where, email=plain) from None
