"""Forms: house_rules."""

from __future__ import annotations

from abrazo.desk.setup.house_rules import HouseRule
from abrazo.web.forms.base import Form, Text


class Decide(Form):
    """One of the house's habits anew."""

    what: HouseRule
    value: Text = ""
