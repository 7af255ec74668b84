"""What pages send: forms with their CSRF token, and the state of the ticket view."""

from __future__ import annotations

import functools
import hmac
from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from typing import Any

from starlette.datastructures import FormData, QueryParams, UploadFile
from starlette.requests import Request

from abrazo.core.codes import holds_card_number
from abrazo.core.errors import Code, Refused
from abrazo.web.door import read_fields


class NotOurs(Exception):
    """A form without the token of this session."""


MAY_HOLD_NUMBERS = ("number", "code", "strokes", "csrf", "key")  # a keyed card, a scanned code, a drawing


async def read_form(request: Request) -> FormData:
    """The form of a request; refused when it does not carry the session's token, or holds a card's number elsewhere."""
    form = await read_fields(request)
    token = request.session.get("csrf", "")
    if not token or not hmac.compare_digest(token.encode(), str(form.get("csrf", "")).encode()):
        raise NotOurs
    for name, value in form.multi_items():
        if isinstance(value, str) and name not in MAY_HOLD_NUMBERS and holds_card_number(value):
            request.state.form = FormData([(one, typed) for one, typed in form.multi_items() if one != name])
            raise Refused(Code.HOLDS_CARD_NUMBER, name)
    request.state.form = form
    return form


def text(form: Mapping[str, Any], name: str, default: str = "") -> str:
    """A field's text, as typed."""
    value = form.get(name, default)
    return value if isinstance(value, str) else default


def whole(form: Mapping[str, Any], name: str, default: int | None = None) -> int:
    """A hidden whole number of the page."""
    value = text(form, name)
    if value.isascii() and value.isdigit() and len(value) < 18:
        return int(value)
    if default is not None:
        return default
    raise Refused(Code.PAGE_EXPIRED, name)


def wholes(form: FormData, name: str) -> list[int]:
    """All hidden whole numbers of this name."""
    given = [one for one in form.getlist(name) if isinstance(one, str) and one.isascii() and one.isdigit()]
    return [int(one) for one in given if len(one) < 18]


def act_key(form: Mapping[str, Any]) -> str:
    """The key of the request, made when its page was; without one nothing is done, since it could be done twice."""
    key = text(form, "key")
    if len(key) < 16:
        raise Refused(Code.PAGE_EXPIRED)
    return key


LARGEST_FILE = 5_000_000  # bytes


def upload(form: FormData, name: str, kind: Code) -> tuple[bytes, str]:
    """A file that was sent, as its bytes and its name. Refused when there is none, or it is too large."""
    file = form.get(name)
    data = file.file.read(LARGEST_FILE + 1) if isinstance(file, UploadFile) else b""
    if not data:
        raise Refused(kind, name)
    if len(data) > LARGEST_FILE:
        raise Refused(Code.FILE_TOO_LARGE, name)
    return data, (file.filename or "") if isinstance(file, UploadFile) else ""


def _many(form: FormData | QueryParams, name: str) -> tuple[str, ...]:
    return tuple(value for value in form.getlist(name) if isinstance(value, str) and value)


PANES = ("pick", "lines", "share", "pay")


@dataclass(frozen=True, slots=True)
class View:
    """What of a ticket shows, and what was typed into it. Travels in the address and in every form."""

    view: str = "pick"
    payer: int | None = None
    category: str = ""
    q: str = ""
    item: str = ""
    seats: tuple[str, ...] = ()
    quantity: str = "1"
    note: str = ""
    notes: tuple[str, ...] = ()  # preset ones that are ticked
    choices: tuple[str, ...] = ()
    line: int | None = None
    changing: int | None = None  # a line whose choices and note are being changed
    served: str = ""  # who served a line that is being changed
    amount: str = ""
    handed: str = ""
    tip: str = ""
    way: str = ""  # the way to pay that is chosen
    extra: str = ""  # what becomes of more than is due: tip or credit
    stored: str = ""  # a gift card: for how much, and the number of one that is topped up
    topped: str = ""
    slip: str = ""  # the tip on a signed slip
    expiry: str = ""  # of a keyed card; its number and code are in no view
    stated: str = ""  # an amount that somebody gives
    parts: str = ""  # in which a line is shared
    naming: str = ""  # a guest being named
    name: str = ""
    alone: str = ""  # "yes": the household's other open things are not offered
    label: str = ""  # an unlisted item: what it is, its price, its kind
    price: str = ""
    kind: str = ""
    reference: str = ""  # of money already taken; the number of a gift card
    said: int | None = None  # a payment that was just made, told at the top

    @classmethod
    def of(cls, form: FormData | QueryParams) -> View:
        """The view that an address or a form asks for."""
        view = text(form, "view", "pick")
        return cls(
            view=view if view in PANES else "pick",
            payer=whole(form, "payer", 0) or None,
            category=text(form, "category"),
            q=text(form, "q"),
            item=text(form, "item"),
            seats=_many(form, "seats"),
            quantity=text(form, "quantity", "1"),
            note=text(form, "note"),
            notes=_many(form, "notes"),
            choices=tuple(v for k, v in form.multi_items() if k.startswith("choice") and isinstance(v, str) and v),
            line=whole(form, "line", 0) or None,
            changing=whole(form, "changing", 0) or None,
            served=text(form, "served"),
            amount=text(form, "amount"),
            handed=text(form, "handed"),
            tip=text(form, "tip"),
            way=text(form, "way"),
            extra=text(form, "extra"),
            stored=text(form, "stored"),
            topped=text(form, "topped"),
            slip=text(form, "slip"),
            expiry=text(form, "expiry"),
            stated=text(form, "stated"),
            parts=text(form, "parts"),
            naming=text(form, "naming"),
            name=text(form, "name"),
            alone=text(form, "alone"),
            label=text(form, "label"),
            price=text(form, "price"),
            reference=text(form, "reference"),
            kind=text(form, "kind"),
            said=whole(form, "said", 0) or None,
        )

    def state(self, **changes: Any) -> dict[str, Any]:
        """The view as address parameters, with changes, leaving out what is as usual."""
        if unknown := changes.keys() - USUAL.keys():
            raise TypeError(f"a view has no {unknown}")
        now = {**_unusual(self), **changes}
        return {name: now[name] for name in USUAL if name in now and now[name] != USUAL[name]}


USUAL = {one.name: one.default for one in fields(View)}  # asked for a hundred times a page


@functools.lru_cache(maxsize=256)  # a page asks for the state of one view again and again
def _unusual(view: View) -> dict[str, Any]:
    """What of a view is not as usual, by name; not to be changed."""
    return {name: getattr(view, name) for name, usual in USUAL.items() if getattr(view, name) != usual}


@dataclass(frozen=True, slots=True)
class Notice:
    """A message on a page; `where` is the field it belongs to, empty for the page itself."""

    kind: str  # done, wrong, changed
    what: str
    where: str = ""
    details: tuple[str, ...] = field(default_factory=tuple)
