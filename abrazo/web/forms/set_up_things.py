"""Forms: what the house is set up with. Which fields there are, each kind of thing says itself."""

from __future__ import annotations

from typing import Literal, Self

from pydantic import Field
from starlette.datastructures import FormData

from abrazo.core.states import HeldKind
from abrazo.web.forms.base import Form, Id, Key, MaybeId, Text, WithFile, Yes

OURS = ("csrf", "key", "seen", "holds_from")  # what the page itself puts in


class Described(Form):
    """Fields as they were typed, by their ids: each a list, since a box that is not ticked sends nothing."""

    key: Key
    seen: MaybeId = 0
    holds_from: Text = ""
    given: dict[str, list[str]] = Field(default_factory=dict)

    @classmethod
    def of(cls, form: FormData) -> Self:
        """The form of these fields."""
        names = [name for name in dict.fromkeys(form) if name not in OURS]
        typed = {name: [one for one in form.getlist(name) if isinstance(one, str)] for name in names}
        return super().of(form).model_copy(update={"given": typed})

    def typed_again(self) -> dict[str, str]:
        """What was typed, to stand in the form again; a PIN does not."""
        typed = {name: "; ".join(values) for name, values in self.given.items() if name != "pin"}
        return typed | {"holds_from": self.holds_from}


class SendTest(Form):
    """Send a test: to a printer by its id, an e-mail address or a phone number."""

    what: Literal["printer", "drawer", "mail", "text"]
    to: Text = ""


class ChangeLogo(WithFile):
    """Another picture at the head of receipts, or none any more."""

    key: Key
    drop: Yes = False


class Retire(Form):
    """Retire a thing, or bring it back."""

    what: Literal["retire", "back"]


class LookAt(WithFile):
    """A file, to be looked at first."""


class LookAtHeld(LookAt):
    """A file of what people held before."""

    kind: HeldKind


class BringIn(Form):
    """Bring in what a file says that was looked at."""

    key: Key
    kind: HeldKind
    file: Id


class TakeBack(Form):
    """Take back all that came with a file."""

    brought: Id


class ReadIn(Form):
    """Do what a file says that was looked at."""

    key: Key
    file: Id
    holds_from: Text = ""


class Undo(Form):
    """Turn a change round, or take one back that is planned."""

    change: MaybeId = 0
    plan: MaybeId = 0
    to: Text = ""
