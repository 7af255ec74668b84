"""All addresses in one place; templates never glue paths."""

from __future__ import annotations

from urllib.parse import urlencode


def _query(path: str, state: dict[str, object]) -> str:
    pairs = [(k, v) for k, v in state.items() if v not in (None, "", ())]
    return f"{path}?{urlencode(pairs, doseq=True)}" if pairs else path


def today() -> str:
    return "/"


def sign_in(**state: object) -> str:
    return _query("/sign-in", state)


def ticket(number: int, **state: object) -> str:
    """A ticket with the panes and choices of `state`."""
    return _query(f"/tickets/{number}", state)


def ticket_act(number: int, act: str) -> str:
    """Where a form about a ticket is sent."""
    return f"/tickets/{number}/{act}"


def why(number: int, **state: object) -> str:
    """Every amount of a ticket, unfolded."""
    return _query(f"/tickets/{number}/why", state)


def change(number: int, payment: int) -> str:
    """The change view of a cash payment."""
    return f"/tickets/{number}/payments/{payment}"


def done(number: int) -> str:
    """The view of a ticket on which nothing is left to pay."""
    return f"/tickets/{number}/done"


def receipt(number: int, payer: int) -> str:
    return f"/tickets/{number}/receipts/{payer}"


def live(number: int, **state: object) -> str:
    """The stream of a ticket's card machine steps."""
    return _query(f"/tickets/{number}/live", state)


def seat(spot: str) -> str:
    return f"/tables/{spot}/seat"


def till() -> str:
    return "/till"


def open_day() -> str:
    return "/till/open"


def count_drawer() -> str:
    return "/till/count"


def report(**state: object) -> str:
    """A day's report; the latest when no day is named."""
    return _query("/till/report", state)


def past(**state: object) -> str:
    return _query("/past", state)


def device_desk() -> str:
    return "/devices"


def find() -> str:
    return "/find"
