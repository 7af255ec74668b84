"""Forms: sign_in."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Secret, Text, Yes


class SignIn(Form):
    """Check a PIN; too many wrong ones lock the person."""

    who: Text = ""
    till: Text = ""
    back: Text = ""
    pin: Secret = ""
    practise: Yes = False


class PractiseAt(Form):
    """Somebody who practises goes to another till."""

    till: Text = ""
