"""A stream whose reader goes away leaves no connection open."""

from __future__ import annotations

import sqlite3
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from types import SimpleNamespace
from typing import cast

import anyio
import pytest
from starlette.requests import Request

from abrazo.desk.context import Devices, House, ShiftedClock
from abrazo.web.served import ServedHouses
from abrazo.web.streams import own_house
from tests.stories.house import demo_template


def test_a_reader_who_goes_away_closes_the_streams_house(tmp_path: Path) -> None:
    database = demo_template(tmp_path / "house") / "house.db"
    houses = ServedHouses(database, Devices.beside(database), ShiftedClock())
    request = cast(Request, SimpleNamespace(session={}, app=SimpleNamespace(state=SimpleNamespace(served=houses))))
    lent = list[House]()

    async def follow() -> None:
        async with own_house(request) as house:
            lent.append(house)
            await anyio.sleep(60)

    async def goes_away() -> None:
        async with anyio.create_task_group() as group:
            group.start_soon(follow)
            while not lent:
                await anyio.sleep(0.01)
            group.cancel_scope.cancel()

    with ThreadPoolExecutor(1) as apart:  # in this thread a browser's loop may be at work
        apart.submit(anyio.run, goes_away).result()
    with pytest.raises(sqlite3.ProgrammingError, match="closed"):
        lent[0].connection.execute("SELECT 1")
    houses.close()
