"""The stand-ins for card machines and the payment service as an ASGI application of its own.

The protocol is docs/formats/payment-devices.md; a real driver's process can take this one's place.
"""

from __future__ import annotations

import asyncio
import json
from collections.abc import Awaitable, Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.routing import Route
from starlette.types import Receive, Scope, Send

from abrazo.core.states import RequestKind
from abrazo.devices.ports import Duplicate, Incomplete, NoAnswer, NotKnown, Script, Unreachable
from abrazo.devices.simulator.card import SERVICE, StandInMachine, StandInService, batch_file
from abrazo.devices.simulator.shared import SharedMemory

Handler = Callable[[Request, StandInMachine], Awaitable[Response]]


class Silence(Response):
    """The connection ends without an answer, as when a cable is pulled."""

    def __init__(self) -> None:
        super().__init__(status_code=200)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        await send({"type": "http.response.start", "status": 200, "headers": [(b"content-length", b"2")]})


def stand_ins_app(machines: list[StandInMachine]) -> Starlette:
    """The application on some stand-ins; each has its path by its name, blanks as hyphens."""
    by_path = {machine.name.replace(" ", "-"): machine for machine in machines}

    def route(handler: Handler) -> Callable[[Request], Awaitable[Response]]:
        async def answer(request: Request) -> Response:
            machine = by_path.get(request.path_params["device"])
            if machine is None:
                return JSONResponse({"error": "no such device"}, 404)
            return await _answered(handler, request, machine)

        return answer

    async def names(request: Request) -> Response:
        return JSONResponse([machine.name for machine in machines])

    device, transaction = "/{device}", "/{device}/transactions/{reference}"
    return Starlette(
        routes=[
            Route("/", names),
            Route(transaction, route(_start), methods=["PUT"]),
            Route(f"{transaction}/steps", route(_look)),
            Route(transaction, route(_inquire)),
            Route(transaction, route(_stop), methods=["DELETE"]),
            Route(f"{device}/cards", route(_keep_card), methods=["POST"]),
            Route(f"{device}/accounts", route(_keep_account), methods=["POST"]),
            Route(f"{device}/returned", route(_returned)),
            Route(f"{device}/batch.csv", route(_batch)),
            Route(f"{device}/told", route(_told)),
            Route(f"{device}/told", route(_tell), methods=["PUT"]),
            Route(f"{device}/past", route(_remember), methods=["PUT"]),
            Route(f"{device}/charged", route(_charged)),
            Route(f"{device}/held", route(_held)),
        ]
    )


async def _answered(handler: Handler, request: Request, machine: StandInMachine) -> Response:
    """A handler's answer, or what its failure looks like on the wire."""
    try:
        return await handler(request, machine)
    except NoAnswer:
        return Silence()
    except Unreachable as fault:
        return JSONResponse({"error": str(fault)}, 503)
    except NotKnown as fault:
        return JSONResponse({"error": str(fault)}, 404)
    except Duplicate as fault:
        return JSONResponse({"error": str(fault)}, 409)
    except Incomplete as fault:
        return JSONResponse({"where": fault.where, "what": fault.what}, 422)
    except (ValueError, KeyError, TypeError):
        return JSONResponse({"error": "not understood"}, 400)


async def _start(request: Request, machine: StandInMachine) -> Response:
    asked = await request.json()
    amount, kind = int(asked["amount"]), RequestKind(asked["kind"])
    reference, tip = request.path_params["reference"], bool(asked["ask_tip"])
    await asyncio.to_thread(machine.start, reference, amount, kind=kind, ask_tip=tip, of=str(asked["of"]))
    return JSONResponse({}, 202)


async def _look(request: Request, machine: StandInMachine) -> Response:
    return JSONResponse(asdict(machine.look(request.path_params["reference"])))


async def _inquire(request: Request, machine: StandInMachine) -> Response:
    return JSONResponse(asdict(machine.inquire(request.path_params["reference"])))


async def _stop(request: Request, machine: StandInMachine) -> Response:
    await asyncio.to_thread(machine.stop, request.path_params["reference"])
    return JSONResponse({}, 202)


async def _keep_card(request: Request, machine: StandInMachine) -> Response:
    if not isinstance(machine, StandInService):
        return JSONResponse({"error": "only the payment service keeps cards"}, 404)
    card = json.loads(await request.body())
    known = await asyncio.to_thread(machine.keep_card, str(card["number"]), str(card["expiry"]), str(card["code"]))
    return JSONResponse(asdict(known), 201)


async def _keep_account(request: Request, machine: StandInMachine) -> Response:
    if not isinstance(machine, StandInService):
        return JSONResponse({"error": "only the payment service keeps bank accounts"}, 404)
    account = json.loads(await request.body())
    known = await asyncio.to_thread(machine.keep_account, str(account["holder"]), str(account["number"]))
    return JSONResponse(asdict(known), 201)


async def _returned(request: Request, machine: StandInMachine) -> Response:
    return JSONResponse([asdict(one) for one in machine.returned()])


async def _batch(request: Request, machine: StandInMachine) -> Response:
    return PlainTextResponse(machine.batch(), media_type="text/csv")


async def _told(request: Request, machine: StandInMachine) -> Response:
    return JSONResponse(asdict(machine.told))


async def _tell(request: Request, machine: StandInMachine) -> Response:
    told: dict[str, Any] = await request.json()
    machine.tell(Script(**told))
    return JSONResponse({}, 202)


async def _remember(request: Request, machine: StandInMachine) -> Response:
    past = (await request.json())["charged"]
    machine.remember([(str(reference), int(amount), float(at)) for reference, amount, at in past])
    return JSONResponse({}, 202)


async def _charged(request: Request, machine: StandInMachine) -> Response:
    return JSONResponse(machine.charged())


async def _held(request: Request, machine: StandInMachine) -> Response:
    return JSONResponse(machine.held())


def _memories(database: Path, names: tuple[str, ...]) -> list[Path]:
    return [database.with_name(f"{database.stem}-{name.replace(' ', '-')}.jsonl") for name in (*names, SERVICE)]


def _cards(database: Path) -> Path:
    return database.with_name(f"{database.stem}-cards.jsonl")


def stand_in_files(database: Path, names: tuple[str, ...]) -> list[Path]:
    """Every file that the stand-ins beside a database may write."""
    memories = _memories(database, names)
    return [*memories, *(batch_file(memory) for memory in memories), _cards(database), told_machines(database)]


def told_machines(database: Path) -> Path:
    """What the machines and the service were told, for all processes that ask them."""
    return database.with_name(f"{database.stem}-machines-told.json")


def stand_ins_beside(database: Path, names: tuple[str, ...]) -> tuple[list[StandInMachine], StandInService]:
    """The stand-ins whose memory lies beside a database, in files of their own."""
    *memories, service = _memories(database, names)
    told = SharedMemory(told_machines(database))
    machines = [StandInMachine(name, memory, shared=told) for name, memory in zip(names, memories, strict=True)]
    return machines, StandInService(service, _cards(database), shared=told)
