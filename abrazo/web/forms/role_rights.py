"""Forms: rights of roles."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Text, Yes


class Change(Form):
    """A role has a right, or not."""

    role: Text = ""
    right: Text = ""
    allowed: Yes = False
