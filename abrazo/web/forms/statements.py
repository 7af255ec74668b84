"""Forms: statements."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key, Text


class MailStatement(Form):
    """Send the statement of these dates."""

    key: Key
    since: Text = ""
    until: Text = ""
    email: Text = ""
