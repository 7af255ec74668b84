"""Codes of things for demos."""

from __future__ import annotations

from abrazo.core.codes import gs1_check_digit


def code_of(number: int) -> str:
    """An EAN-13 from GS1's range for use inside a house (prefixes 20 to 29), with its check digit."""
    payload = f"21{number:010d}"
    return f"{payload}{gs1_check_digit(payload)}"
