"""What every page of set-up has around it: the places that it leads to, and which of them fit what is looked for."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any, NamedTuple

from abrazo.core.people import folded
from abrazo.core.states import Does
from abrazo.desk.context import House
from abrazo.desk.setup.kinds import AHEAD, NEEDS, SOLD, WHO
from abrazo.desk.setup.things import Thing
from abrazo.web import urls
from abrazo.words import set_up as words


@dataclass(frozen=True, slots=True)
class Place:
    """A page of set-up that is no list of things; `needs`: what the house must do for it to show."""

    id: str
    url: str
    needs: str = ""


class Group(NamedTuple):
    """What stands together in the bar: lists, each with what the house must do for it to show, and other pages."""

    lists: list[tuple[str, str]]
    places: list[Place]


def _lists(kinds: Iterable[Thing]) -> list[tuple[str, str]]:
    return [(one.id, NEEDS.get(one.id, "")) for one in kinds]


GROUPS = (
    Group(_lists(SOLD), []),
    Group(_lists(AHEAD), [Place("brought", urls.set_up_brought())]),
    Group(
        _lists(WHO),
        [
            Place("rights", urls.set_up_rights()),
            Place("floor", urls.floor(), Does.TABLES),
            Place("bookings", urls.set_up_bookings(), Does.BOOKINGS),
            Place("tenders", urls.set_up_tenders()),
        ],
    ),
)
PAGES = {  # of kinds that have one of their own
    "rights": urls.set_up_rights(),
    "tables": urls.floor(),
    **dict.fromkeys(("hours", "booking-terms"), urls.set_up_bookings()),
    "tenders": urls.set_up_tenders(),
}
WITHIN_PAGE = {"tables": "floor", "hours": "bookings", "booking-terms": "bookings"}  # as the bar has it
DONE = [Place("out", urls.set_up_out()), Place("changes", urls.set_up_changes())]
WITHIN = [Place("logo", urls.set_up_house("papers"))]  # found by name, part of another page


def frame(**more: Any) -> dict[str, Any]:
    """The kinds, places and sections that the bar leads to, which of them is `here`, and what was looked for."""
    bar = {"groups": GROUPS, "done": DONE, "place_words": words.PLACES}
    here = {"here": WITHIN_PAGE.get(more.get("here", ""), more.get("here", ""))}
    return {"kinds": words.THINGS, "sections": words.SECTIONS, "find": ""} | bar | more | here


def fits(find: str, *texts: str) -> bool:
    """Whether every word that is looked for stands somewhere in these texts; blind to case and accents."""
    said = folded(" ".join(texts))
    return all(part in said for part in folded(find).split())


def places_found(house: House, find: str) -> list[tuple[str, str, str]]:
    """The lists and other pages that fit what is looked for: address, name, what it is for."""
    does = house.settings.does.split()
    asked = [one for needs, *one in _everywhere() if not needs or needs in does]
    told = [(url, house.say(name), house.say(about)) for url, name, about in asked]
    return [one for one in told if fits(find, *one[1:])]


def _everywhere() -> Iterator[tuple[str, str, str, str]]:
    """Every list and page: what the house must do for it, its address, name, what it is for."""
    for lists, places in (*GROUPS, Group([], DONE + WITHIN)):
        for id, needs in lists:
            name, _, about = words.THINGS[id]
            yield needs, urls.set_up_list(id), name, about
        for one in places:
            yield one.needs, one.url, *words.PLACES[one.id]
