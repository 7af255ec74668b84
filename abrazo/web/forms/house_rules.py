"""Forms: house_rules."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Text


class Decide(Form):
    """One of the house's habits anew."""

    what: Text = ""
    value: Text = ""
