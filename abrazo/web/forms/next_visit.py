"""The next visit as the address of a page has it: what was typed, and why it was refused."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel

from abrazo.web.notices import Notice


class NextVisit(BaseModel):
    """What was typed for the next visit; `refused` is why it was not booked, `booked` for whom it was."""

    refused: str = ""
    booked: int = 0
    date: str = ""
    time: str = ""
    service: str = ""
    staff: str = ""
    name: str = ""
    phone: str = ""
    where: str = "book"
    asks: str = ""  # whether a second person with one phone is asked about

    @property
    def notice(self) -> Notice | None:
        """What is wrong about it, with what was typed; None when nothing is."""
        typed = {"date": self.date, "time": self.time, "service": self.service, "staff": self.staff}
        typed |= {"name": self.name, "phone": self.phone}
        where = self.where if self.where in ("book", "name", "phone") else "book"
        kind = "ask" if self.asks == "yes" else "wrong"
        return Notice(kind, self.refused[:200], where, typed=typed) if self.refused else None


AskedVisit = Annotated[NextVisit, Query()]
