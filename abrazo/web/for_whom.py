"""What is sold to somebody, on a ticket that is nobody's yet: asked for whom, and nothing else."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from abrazo.core.errors import Code, Refused
from abrazo.web import urls
from abrazo.web.dependencies import GoTo


@contextmanager
def asking_for_whom(ticket: int, item: str) -> Iterator[None]:
    """Pick an item inside: where its customer is missing, their page is next, and the item comes with them."""
    try:
        yield
    except Refused as refusal:
        if refusal.code is Code.HIRE_ASKS:
            raise GoTo(urls.hire_on(ticket, item=item)) from None
        if refusal.code is not Code.SOLD_TO_SOMEBODY:
            raise
        raise GoTo(urls.whose(ticket, item=item)) from None
