"""The first page of a new house: its questions, answered in the browser, make the house.

Rules here
- only from this machine, or with the one-time code that the command prints
- a country proposes currency, zone and language; nothing about taxes is guessed
- all that is wrong is said at once, each beside its field; what was typed stays, but for the PIN
"""

from __future__ import annotations

import hmac
import secrets
from collections.abc import Callable, Mapping
from importlib import resources
from pathlib import Path
from typing import Any

from babel.core import get_global
from babel.languages import get_official_languages
from babel.numbers import get_territory_currencies
from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import FormData
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Does, Home, StaffRole
from abrazo.desk.setup.floor import LEAST
from abrazo.desk.setup.profiles import MODES, Fault, Faulty, make_house
from abrazo.web.assets import styles
from abrazo.web.main import Headers
from abrazo.web.pages import plain_page
from abrazo.words.catalogue import languages
from abrazo.words.refusals import refusal_text
from abrazo.words.speaking import Reader

HERE = ("127.0.0.1", "::1", "testclient")
TAX_ROWS, MOST_TABLES, LARGE_TABLES = 3, 80, 20  # so many have room on the plan, and so many of the usual size
Typed = dict[str, str]
BEGINS: Mapping[str, str] = {"tills": "Till 1", "prices": MODES[0], "language": "en"}


def proposals(country: str) -> Typed:
    """What a country proposes: currency, zone and language; empty for one that is none."""
    territory = country.strip().upper()
    currencies = get_territory_currencies(territory) if len(territory) == 2 else []
    if not currencies:
        return {}
    zones = sorted(zone for zone, one in get_global("zone_territories").items() if one == territory and "/" in zone)
    spoken = [one for one in get_official_languages(territory) if one in languages()]
    found = {"country": territory, "currency": str(currencies[0]), "language": next(iter(spoken), "en")}
    return found | ({"zone": zones[0]} if zones else {})


def create_first_run(database: Path, code: str, made: Callable[[], None]) -> FastAPI:
    """The application that asks, until a house is made; then `made` is called."""
    app = FastAPI(docs_url=None, redoc_url=None, openapi_url=None)
    app.add_middleware(Headers)
    token, ended = secrets.token_urlsafe(24), list[bool]()

    def may_ask(request: Request) -> bool:
        near = request.client is not None and request.client.host in HERE
        return near or hmac.compare_digest(request.query_params.get("code", ""), code)

    def asked(request: Request, typed: Mapping[str, str], does: list[str], faults: list[Fault]) -> HTMLResponse:
        said: dict[str, list[str]] = {}
        for one in faults:
            said.setdefault(_field_of(one), []).append(refusal_text(Reader(), _why(one)))
        rows = [(typed.get(f"tax-name-{row}", ""), typed.get(f"tax-percent-{row}", "")) for row in range(TAX_ROWS)]
        page = plain_page("set_up/first.html", typed={**BEGINS, **typed}, does=does, said=said, token=token,
                          all_does=list(Does), modes=MODES, tax_rows=rows, code=request.query_params.get("code", ""),
                          languages=languages())  # fmt: skip
        return HTMLResponse(page, 422 if faults else 200)

    async def show(request: Request) -> Response:
        if ended:
            return Response(status_code=503)
        if not may_ask(request):
            return HTMLResponse(plain_page("set_up/not_here.html"), 403)
        return asked(request, {}, list(Does), [])

    async def answer(request: Request) -> Response:
        form = await request.form()
        given = hmac.compare_digest(str(form.get("token", "")), token)
        if not may_ask(request) or not given:
            return HTMLResponse(plain_page("set_up/not_here.html"), 403)
        typed = {name: value for name, value in form.items() if isinstance(value, str) and name != "pin"}
        does = [str(one) for one in form.getlist("does")]
        if form.get("what") == "propose":
            return asked(request, typed | proposals(typed.get("country", "")), does, [])
        if ended:  # pressed twice at once: one house is made
            return Response(status_code=503)
        ended.append(True)
        try:
            await run_in_threadpool(make_house, database, profile_of(form))
        except Faulty as faulty:
            ended.clear()
            return asked(request, typed, does, faulty.faults)
        made()
        return HTMLResponse(plain_page("set_up/made.html", name=typed["name"]))

    app.add_route("/static/abrazo.css", styles)
    app.mount("/static", StaticFiles(directory=str(resources.files("abrazo.web") / "static")), name="static")
    app.add_route("/", show)
    app.add_route("/", answer, methods=["POST"])
    app.add_route("/{rest:path}", show)
    return app


def _why(fault: Fault) -> Refused:
    """Why: of tables the page knows only how many there are."""
    return Refused(Code.FIELD_RANGE, least=0, most=MOST_TABLES) if fault.table == "tables" else fault.why


def _field_of(fault: Fault) -> str:
    """The field of the page at which a fault stands."""
    if fault.table == "taxes":
        return f"tax-{fault.number - 1}"
    if fault.table == "staff":
        return "pin" if fault.field == "pin" else "person"
    return {"tills": "tills", "tables": "tables"}.get(fault.table, fault.field)


def profile_of(form: FormData) -> dict[str, Any]:
    """The answers as a profile."""
    typed = {name: value.strip() for name, value in form.items() if isinstance(value, str)}
    house: dict[str, Any] = {
        name: typed.get(name, "") for name in ("name", "address", "country", "currency", "zone", "prices", "language")
    }
    house["does"] = [str(one) for one in form.getlist("does")]
    if typed.get("cash_rounding"):
        house["cash_rounding"] = typed["cash_rounding"].replace(",", ".")
    rows = [(typed.get(f"tax-name-{row}", ""), typed.get(f"tax-percent-{row}", "")) for row in range(TAX_ROWS)]
    home = Home.ROOM if Does.TABLES in house["does"] else Home.DESK
    tills = [name.strip() for name in typed.get("tills", "").split(";") if name.strip()]
    return {
        "house": house,
        "taxes": [{"label": label, "rate": percent} for label, percent in rows if label or percent],
        "categories": [],
        "staff": [{"name": typed.get("person", ""), "role": StaffRole.SUPERVISOR, "pin": typed.get("pin", "")}],
        "tills": [{"name": name, "home": home} for name in tills],
        "tables": _tables(typed.get("tables", "")) if Does.TABLES in house["does"] else [],
    }


def _tables(typed: str) -> list[dict[str, str]]:
    """So many tables, to be named and moved on the floor plan; one that is wrong where no number was typed."""
    if not typed:
        return []
    if not (typed.isascii() and typed.isdigit() and len(typed) < 3 and int(typed) <= MOST_TABLES):
        return [{}]
    size = {"width": str(LEAST), "height": str(LEAST)} if int(typed) > LARGE_TABLES else {}
    return [{"name": str(number), **size} for number in range(1, int(typed) + 1)]
