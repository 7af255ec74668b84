"""An invoice as it is kept: JSON with the fields of `core.invoices.Invoice`."""

from __future__ import annotations

from functools import cache

from pydantic import TypeAdapter

from abrazo.core.invoices import Invoice


@cache
def _adapter() -> TypeAdapter[Invoice]:
    return TypeAdapter(Invoice)


def invoice_to_json(invoice: Invoice) -> str:
    """The invoice as JSON text."""
    return _adapter().dump_json(invoice).decode()


def invoice_from_json(text: str) -> Invoice:
    """The invoice that was kept as this text; pydantic's ValidationError when it is none."""
    return _adapter().validate_json(text)
