"""Forms: receipts."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key, Lent, Text, Yes


class Mail(Form):
    """By e-mail; with 'always' that is how the ticket's person likes it from now on."""

    key: Key
    email: Text = ""


class TextMessage(Form):
    """In short, by text message."""

    key: Key
    phone: Text = ""


class Prefer(Form):
    """How the ticket's person likes receipts."""

    prefer: Text = ""


class PrintIt(Lent):
    """Print a receipt."""

    key: Key
    gift: Yes = False
