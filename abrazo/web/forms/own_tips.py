"""Forms: own_tips."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key


class LastReceipt(Form):
    """Print the receipt of what was paid last at this till; it then stands on the screen."""

    key: Key
