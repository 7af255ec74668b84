"""The application's own list of routes."""

from __future__ import annotations

from typing import Any

from fastapi.routing import APIRoute
from fastapi.testclient import TestClient


def routes_of(client: TestClient) -> list[APIRoute]:
    """Every route that answers a page or a form; routers are kept whole in the application."""
    app: Any = client.app
    within = [getattr(one, "original_router", None) for one in app.routes]
    found = [route for router in within if router is not None for route in router.routes if isinstance(route, APIRoute)]
    assert len(found) > 150
    return found
