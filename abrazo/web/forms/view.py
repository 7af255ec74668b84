"""The state of the ticket view: what of it shows, and what was typed into it."""

from __future__ import annotations

import functools
from dataclasses import dataclass, fields
from typing import Annotated, Any

from fastapi import Depends
from starlette.datastructures import FormData, QueryParams
from starlette.requests import Request

from abrazo.web.forms.base import is_number, read_form

PANES = ("pick", "lines", "share", "pay")


def _text(form: FormData | QueryParams, name: str, default: str = "") -> str:
    value = form.get(name, default)
    return value if isinstance(value, str) else default


def _number(form: FormData | QueryParams, name: str) -> int | None:
    value = _text(form, name)
    return int(value) or None if is_number(value) else None


def _many(form: FormData | QueryParams, name: str) -> tuple[str, ...]:
    return tuple(value for value in form.getlist(name) if isinstance(value, str) and value)


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
    giver: int | None = None  # and who
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
    async def sent(cls, form: Annotated[FormData, Depends(read_form)]) -> View:
        """The view that a form carries."""
        return cls.of(form)

    @classmethod
    def asked(cls, request: Request) -> View:
        """The view that an address asks for."""
        return cls.of(request.query_params)

    @classmethod
    def of(cls, form: FormData | QueryParams) -> View:
        """The view that an address or a form asks for."""
        view = _text(form, "view", "pick")
        return cls(
            view=view if view in PANES else "pick",
            payer=_number(form, "payer"),
            giver=_number(form, "giver"),
            category=_text(form, "category"),
            q=_text(form, "q"),
            item=_text(form, "item"),
            seats=_many(form, "seats"),
            quantity=_text(form, "quantity", "1"),
            note=_text(form, "note"),
            notes=_many(form, "notes"),
            choices=tuple(v for k, v in form.multi_items() if k.startswith("choice") and isinstance(v, str) and v),
            line=_number(form, "line"),
            changing=_number(form, "changing"),
            served=_text(form, "served"),
            amount=_text(form, "amount"),
            handed=_text(form, "handed"),
            tip=_text(form, "tip"),
            way=_text(form, "way"),
            extra=_text(form, "extra"),
            stored=_text(form, "stored"),
            topped=_text(form, "topped"),
            slip=_text(form, "slip"),
            expiry=_text(form, "expiry"),
            stated=_text(form, "stated"),
            parts=_text(form, "parts"),
            naming=_text(form, "naming"),
            name=_text(form, "name"),
            alone=_text(form, "alone"),
            label=_text(form, "label"),
            price=_text(form, "price"),
            reference=_text(form, "reference"),
            kind=_text(form, "kind"),
            said=_number(form, "said"),
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


SentView = Annotated[View, Depends(View.sent)]
AskedView = Annotated[View, Depends(View.asked)]
