"""Forms: statements of many accounts."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Ids, Key, Text


class SendStatements(Form):
    """Make the statements of these dates of those that are ticked."""

    key: Key
    since: Text = ""
    until: Text = ""
    person: Ids = ()


class StopStatements(Form):
    """Make no more of them."""
