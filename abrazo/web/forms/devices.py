"""Forms: devices."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Text, Yes


class Machine(Form):
    """Tell a card machine what comes next."""

    line_down: Yes = False
    name: Text = ""
    outcome: Text = ""
    tip: Text = ""
    pace: Text = ""


class Printer(Form):
    """Take the printer's paper out, or put it in."""

    paper_out: Yes = False


class Scanner(Form):
    """Scan a code at a till."""

    pick: Text = ""
    code: Text = ""
    till: Text = ""


class Drawer(Form):
    """Push a drawer shut."""

    till: Text = ""


class Outbox(Form):
    """What may have gone out: again, or it did."""

    sheet: Id
    again: Yes = False
    then: Literal["", "today"] = ""


class Faults(Form):
    """Let a device fail, or mend it."""

    fails: Yes = False
    device: Text = ""
