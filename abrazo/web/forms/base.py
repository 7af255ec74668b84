"""The ground of all forms: their token, their fields by type, a supervisor's PIN, files.

Rules here
- a form without the session's token is not ours; one with a card's number in a field that takes none is refused
- what a person types is text and stays as typed: the desk reads it, and says what is wrong beside its field
- what a page hides in a form is checked here: what cannot be read means that the page is too old
"""

from __future__ import annotations

import hmac
from collections.abc import AsyncIterator
from dataclasses import fields
from typing import TYPE_CHECKING, Annotated, Any, Self, TypeVar

from fastapi import Depends
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError
from starlette.datastructures import FormData, UploadFile
from starlette.requests import Request

from abrazo.core.codes import holds_card_number
from abrazo.core.errors import Code, Refused
from abrazo.web.door import MOST_DIGITS, read_fields

MAY_HOLD_NUMBERS = (
    "number",
    "account_number",
    "code",
    "strokes",
    "csrf",
    "key",
)  # a keyed card, a scanned code, a drawing
MB = 1_000_000  # bytes
LARGEST_FILE, LARGEST_LIST = 5, 20  # MB; the second of people, who are read beside the pages
SHORTEST_KEY = 16


class NotOurs(Exception):
    """A form without the token of this session."""


async def read_form(request: Request) -> FormData:
    """The form of a request; refused when it does not carry the session's token, or holds a card's number elsewhere."""
    form = await read_fields(request)
    token = request.session.get("csrf", "")
    if not token or not hmac.compare_digest(token.encode(), str(form.get("csrf", "")).encode()):
        raise NotOurs
    for name, value in form.multi_items():
        if isinstance(value, str) and not _judged_otherwise(name, value) and holds_card_number(value):
            request.state.form = FormData([(one, typed) for one, typed in form.multi_items() if one != name])
            raise Refused(Code.HOLDS_CARD_NUMBER, name)
    request.state.form = form
    return form


async def form_sent(request: Request) -> AsyncIterator[FormData]:
    """The same while a request lasts; what files it brought are closed with it."""
    form = await read_form(request)
    try:
        yield form
    finally:
        await form.close()


def _judged_otherwise(name: str, value: str) -> bool:
    """Whether a field has a check of its own: a code, a phone's number (ITU-T E.164: at most 15 digits)."""
    return name in MAY_HOLD_NUMBERS or (name == "phone" and value.strip()[:1] in ("+", "0"))


def is_number(value: object) -> bool:
    """Whether a text is a whole number that an id can be."""
    return isinstance(value, str) and value.isascii() and value.isdigit() and len(value) < MOST_DIGITS


def _whole(value: object) -> int:
    if not is_number(value):
        raise ValueError("no whole number")
    return int(str(value))


def _whole_or_none(value: object) -> int:
    return int(str(value)) if is_number(value) else 0


def _wholes(values: object) -> tuple[int, ...]:
    """Those of many that are whole numbers."""
    return tuple(int(one) for one in values if is_number(one)) if isinstance(values, list) else ()


def _texts(values: object) -> tuple[str, ...]:
    return tuple(one for one in values if isinstance(one, str) and one) if isinstance(values, list) else ()


def _plain_text(value: object) -> object:
    return "" if isinstance(value, UploadFile) else value  # a file where a text was asked for


def _secret(value: object) -> object:
    return _plain_text(value)


AS_TYPED = BeforeValidator(_plain_text)
Text = Annotated[str, AS_TYPED]  # as typed
Secret = Annotated[str, BeforeValidator(_secret)]  # likewise, and never shown again
Id = Annotated[int, BeforeValidator(_whole)]  # of something on the page, or its version
MaybeId = Annotated[int, BeforeValidator(_whole_or_none)]  # 0 for none
Ids = Annotated[tuple[int, ...], BeforeValidator(_wholes)]  # of boxes that are ticked
Texts = Annotated[tuple[str, ...], BeforeValidator(_texts)]
Key = Annotated[str, Field(min_length=SHORTEST_KEY)]  # made with the page: without one an act could be done twice
Yes = Annotated[bool, BeforeValidator(lambda value: value == "yes")]


class Form(BaseModel):
    """A form as it was sent; fields that it does not name are left out."""

    model_config = ConfigDict(frozen=True, arbitrary_types_allowed=True)

    @classmethod
    async def sent(cls, form: Annotated[FormData, Depends(form_sent)]) -> Self:
        """The form of a request; refused as `of` says. Asynchronous, since a thread of the pool would cost more."""
        return cls.of(form)

    @classmethod
    def of(cls, form: FormData) -> Self:
        """The form of these fields. Refused, as too old a page, when what the page itself puts in cannot be read."""
        many = {name for name, one in cls.model_fields.items() if one.annotation in (tuple[int, ...], tuple[str, ...])}
        given: dict[str, Any] = {one.alias or name: name for name, one in cls.model_fields.items()}
        values = {as_sent: form.getlist(as_sent) if name in many else form.get(as_sent)
                  for as_sent, name in given.items() if as_sent in form}  # fmt: skip
        if cls.model_config.get("extra") == "allow":
            values.update((name, one) for name, one in form.items() if name not in given and isinstance(one, str))
        try:
            return cls.model_validate(values)
        except ValidationError as error:
            raise Refused(Code.PAGE_EXPIRED, str(error.errors()[0]["loc"][0])) from None

    def typed(self, *names: str) -> dict[str, str]:
        """Texts as they were typed, to be shown again: those named, else all; a PIN never."""
        return {name: str(getattr(self, name)) for name in names or self._texts()}

    def typed_for(self, kind: type) -> dict[str, str]:
        """Texts as they were typed that a record of this kind has fields for."""
        wanted = {one.name for one in fields(kind)}
        return self.typed(*(name for name in self._texts() if name in wanted))

    def _texts(self) -> tuple[str, ...]:
        return tuple(name for name, one in type(self).model_fields.items() if AS_TYPED in one.metadata)

    def numbered(self, name: str) -> dict[str, str]:
        """Fields of one kind that are told apart by what follows a dash: by that."""
        extra: dict[str, str] = self.model_extra or {}
        return {field.removeprefix(f"{name}-"): text for field, text in extra.items() if field.startswith(f"{name}-")}


def own_typed(form: Form) -> dict[str, str]:
    """What was typed into the fields of the house's own, by their names."""
    return {f"own-{field}": text for field, text in form.numbered("own").items()}


class Lent(Form):
    """A form on which a supervisor may lend a right."""

    lender: Text = ""
    pin: Secret = ""


class WithFile(Lent):
    """A form that brings a file."""

    file: UploadFile | str = ""

    def read_file(self, kind: Code, most: int = LARGEST_FILE) -> tuple[bytes, str]:
        """The file's bytes and its name. Refused when there is none, or it is too large."""
        if isinstance(self.file, str):
            raise Refused(kind, "file")
        data = self.file.file.read(most * MB + 1)
        if not data:
            raise Refused(kind, "file")
        if len(data) > most * MB:
            raise Refused(Code.FILE_TOO_LARGE, "file", most=most)
        return data, self.file.filename or ""


if TYPE_CHECKING:
    F = TypeVar("F")
    Sent = Annotated[F, "form"]
else:

    class Sent:
        """`Sent[Cash]`: a route's parameter that is the form of its request."""

        def __class_getitem__(cls, form):
            return Annotated[form, Depends(form.sent)]
