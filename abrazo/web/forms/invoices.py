"""Forms: invoices."""

from __future__ import annotations

from abrazo.core.invoices import Party
from abrazo.web.forms.base import Form, Key, MaybeId, Text


class Buyer(Form):
    """What invoices say of somebody."""

    buyer: Text = ""
    address: Text = ""
    country: Text = ""
    tax_number: Text = ""

    @property
    def party(self) -> Party:
        """As it was typed."""
        return Party(self.buyer, self.address, self.country, self.tax_number)


class MakeInvoice(Buyer):
    """Make the invoice of a payer, to somebody known or to whom is typed."""

    key: Key
    person: MaybeId = 0


class MailInvoice(Form):
    """Send an invoice."""

    key: Key
    email: Text = ""
