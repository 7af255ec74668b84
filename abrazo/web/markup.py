"""What every page is written with: forms that carry their tokens, links and forms that swap the page's main part."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping
from contextvars import ContextVar

from markupsafe import Markup, escape

from abrazo.web.forms.view import View

csrf: ContextVar[str] = ContextVar("csrf")  # the session's, while a page is drawn

SWAP = Markup('x-target="main" x-target.3xx.push="main"')  # of a form: its answer replaces the main part
GO = Markup('x-target.push="main"')  # of a link, likewise
UNFOLD = Markup('x-target.replace="main"')  # of a link that only unfolds a part of the page: Back does not fold it
_HIDDEN = '<input type="hidden" name="%s" value="%s">'


def hidden(name: str, value: object) -> str:
    """A field that nobody sees."""
    return _HIDDEN % (name, escape(value))


def state_fields(view: View, without: tuple[str, ...] = ()) -> Markup:
    """The state of the ticket's page as hidden fields, without those that the form asks for or leaves behind."""
    fields = []
    for name, value in view.state().items():
        if name not in without:
            several = (value,) if isinstance(value, str | int) else value
            fields += [hidden(name, one) for one in several]
    return Markup("").join(map(Markup, fields))


def form(
    action: str,
    classes: str = "",
    *,
    caller: Callable[[], str],
    version: int | None = None,
    carrying: View | None = None,
    without: tuple[str, ...] = (),
    swap: bool = True,
    attributes: Mapping[str, str] | None = None,
    fields: Mapping[str, object] | None = None,
    **more: object,
) -> Markup:
    """A form that posts, with the session's token and a key of its own, so that it counts once.

    `version` is the one of the ticket that the page shows; the state of the view `carrying` goes along, but for the
    fields `without`.
    `fields` and further keyword arguments are hidden fields; `caller` draws what stands in the form.
    """
    head = f'<form method="post" action="{escape(action)}"'
    head += f' class="{escape(classes)}"' if classes else ""
    head += "".join(f' {name}="{escape(value)}"' for name, value in (attributes or {}).items())
    carried = [hidden("csrf", csrf.get()), hidden("key", uuid.uuid4().hex)]
    if version is not None:
        carried.append(hidden("version", version))
    carried += [state_fields(carrying, without)] if carrying is not None else []
    carried += [hidden(name, value) for name, value in {**more, **(fields or {})}.items()]
    return Markup(f"{head} {SWAP if swap else ''}>{''.join(carried)}{caller()}</form>")  # noqa: S704 (escaped above)
