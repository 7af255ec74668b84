"""Forms: the pool of tips."""

from __future__ import annotations

from pydantic import ConfigDict

from abrazo.web.forms.base import Form, Key, Text


class Divide(Form):
    """Hours or points in fields `weight-PERSON`, and how much; worked out first, or divided."""

    model_config = ConfigDict(extra="allow")

    key: Key
    measure: Text = ""
    amount: Text = ""
    do: Text = ""


class Print(Form):
    """Print the list."""

    key: Key
