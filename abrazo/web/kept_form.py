"""What somebody had typed when their sign-in ended: kept with the session until they, or the next, have signed in.

Rules here
- only what was sent with the session's own token is kept: nobody else can put a form before somebody
- no PIN, nothing about a card, no file, no button alone; what is longer than fits into a cookie is not kept either
"""

from __future__ import annotations

import json
from dataclasses import dataclass

from starlette.datastructures import FormData
from starlette.requests import Request

from abrazo.core.errors import Refused
from abrazo.web.forms.base import NotOurs, read_form

MOST = 2000  # characters; the cookie has room for 4096 bytes, signed and encoded
SECRET = ("pin", "number", "expiry", "code")  # of a person, of a card: never shown, also not hidden in a page
OURS = ("key", "version")  # what a page puts in by itself
KEPT = "kept"


@dataclass(frozen=True, slots=True)
class KeptForm:
    """A form that was not sent: its address, its fields."""

    to: str
    fields: tuple[tuple[str, str], ...]


def sent_again(form: FormData, without: tuple[str, ...] = ()) -> list[tuple[str, str]]:
    """What was typed, to be sent once more; a card's number and a PIN are typed anew."""
    secret = SECRET if "number" in form else SECRET[:1]
    return [
        (name, value)
        for name, value in form.multi_items()
        if isinstance(value, str) and name not in (*secret, *without)
    ]


def address_of(request: Request) -> str:
    """The address of a request, as a form names it."""
    return request.url.path + (f"?{request.url.query}" if request.url.query else "")


async def keep(request: Request) -> None:
    """Keep what a request brings, when it is ours and short enough."""
    try:
        form = getattr(request.state, "form", None) or await read_form(request)
    except (NotOurs, Refused):
        return
    fields = sent_again(form, without=("csrf", "lender"))
    something = any(value and name not in OURS for name, value in fields)
    files = any(not isinstance(value, str) for value in form.values())
    if something and not files and "number" not in form and len(json.dumps(fields)) <= MOST:
        request.session[KEPT] = {"to": address_of(request), "fields": fields}


def take(request: Request) -> KeptForm | None:
    """What waits; it does so once."""
    found = request.session.pop(KEPT, None)
    return KeptForm(found["to"], tuple((name, value) for name, value in found["fields"])) if found else None
