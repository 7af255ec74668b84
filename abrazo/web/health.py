"""Whether the house can be worked with, for whoever watches over it: GET /health, no personal data."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from abrazo.desk.context import DatabaseError
from abrazo.web.served import real_house


def health(request: Request) -> Response:
    """200 with what is open; 503 with the reason when the database cannot be read."""
    houses = real_house(request).houses
    try:
        house = houses.lend()
        try:
            day = house.open_day()
            return JSONResponse({"ready": True, "day": day.business_date if day else None})
        finally:
            houses.give_back(house)
    except DatabaseError as fault:
        return JSONResponse({"ready": False, "why": str(fault)}, 503)
