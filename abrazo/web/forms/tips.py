"""Forms: tips."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Text


class Tip(Form):
    """A payer's tip."""

    version: Id
    payer: Id
    percent: Text = ""
    tip: Text = ""
    sure: Text = ""
