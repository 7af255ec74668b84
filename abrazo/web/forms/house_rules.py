"""Forms: house_rules."""

from __future__ import annotations

from typing import Literal

from abrazo.desk.setup.house_rules import HouseRule
from abrazo.web.forms.base import Form, Text


class Decide(Form):
    """One of the house's habits anew."""

    what: HouseRule | Literal["person_fields", "job_fields"]
    value: Text = ""
