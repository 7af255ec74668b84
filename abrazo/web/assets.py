"""The page's styles: one file per component, read in this order and sent as one."""

from __future__ import annotations

import functools
from importlib import resources

from starlette.requests import Request
from starlette.responses import Response

STYLES = (
    *(
        "fonts",
        "tokens",
        "base",
        "controls",
        "topbar",
        "practice",
        "sign-in",
        "papers",
        "room",
        "till",
        "closing",
        "rights",
        "set-up",
        "report",
        "past",
        "options",
    ),
    *(
        "screens",
        "ticket",
        "pick",
        "lines",
        "share",
        "pay",
        "why",
        "ticket-screens",
        "today",
        "bookings",
        "jobs",
        "hire",
    ),
    *("tabs", "people", "doors-screens", "signing", "prep", "counter", "floor", "small-screens", "night", "print"),
)


@functools.cache
def stylesheet() -> str:
    """All styles; what stands later wins, so a component's narrow screens come after it."""
    folder = resources.files("abrazo.web") / "static" / "styles"
    return "".join((folder / f"{name}.css").read_text("utf-8") for name in STYLES)


def styles(request: Request) -> Response:
    """The stylesheet of every page."""
    return Response(stylesheet(), media_type="text/css")
