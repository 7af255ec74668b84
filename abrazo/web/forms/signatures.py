"""Forms: signatures."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Text


class Signed(Form):
    """The slip of a charge was signed on paper."""

    payment: Id


class Draw(Form):
    """Keep a signature that was drawn."""

    strokes: Text = ""
