"""Forms and the models that read them: each form of each page carries what its route asks for, and old pages are told."""

from __future__ import annotations

import re
from typing import Any

import pytest
from fastapi.testclient import TestClient
from starlette.datastructures import FormData, UploadFile

from abrazo.core.errors import Code, Refused
from abrazo.web.forms import jobs, past, tenders, till
from abrazo.web.forms.base import Form
from tests.web.demo_pages import every_page
from tests.web.routes import routes_of
from tests.web.test_pages import client, made, send

__all__ = ["client", "made"]

FORM = re.compile(r'<form[^>]*method="post"[^>]*action="([^"?]+)[^"]*"[^>]*>(.*?)</form>', re.S)
NAME = re.compile(r'\bname="([^"]+)"')


def forms_of(client: TestClient) -> list[tuple[re.Pattern[str], type[Form]]]:
    """The address of every route that takes a form, and the form."""
    found = []
    for route in routes_of(client):
        for one in route.dependant.dependencies:
            model = getattr(one.call, "__self__", None)
            if isinstance(model, type) and issubclass(model, Form):
                found.append((route.path_regex, model))
    assert len(found) > 90
    return found


def test_every_form_carries_what_its_route_asks_for(client: TestClient) -> None:
    page = client.get("/sign-in?who=odile").text
    send(client, page, "/sign-in", who="odile", till="galley", pin="407118", back="")
    routes, seen, lacking = forms_of(client), set(), {}
    for path in every_page(client):
        answer = client.get(path)
        for action, body in FORM.findall(answer.text):
            names = set(NAME.findall(body))
            models = [model for address, model in routes if address.fullmatch(action)]
            assert models or action in ("/lock",), (path, action)
            for model in models:
                seen.add(model)
                needed = {one.alias or name for name, one in model.model_fields.items() if one.is_required()}
                if needed - names:
                    lacking[path, action] = needed - names
    assert lacking == {}
    assert len(seen) > 45


def sent(**fields: Any) -> FormData:
    """Fields as a request brings them; a list is a field that comes several times."""
    return FormData(
        [(name, one) for name, each in fields.items() for one in (each if isinstance(each, list) else [each])]
    )


@pytest.mark.parametrize("wrong", ["", "-1", "1.0", "x", "१", "9" * 19])
def test_a_hidden_field_that_cannot_be_read_means_an_old_page(wrong: str) -> None:
    with pytest.raises(Refused) as refused:
        tenders.Cash.of(sent(version=wrong, payer="3", key="k" * 16))
    assert (refused.value.code, refused.value.where) == (Code.PAGE_EXPIRED, "version")


def test_a_key_that_is_too_short_is_none() -> None:
    with pytest.raises(Refused) as refused:
        tenders.Cash.of(sent(version="1", payer="3", key="short"))
    assert (refused.value.code, refused.value.where) == (Code.PAGE_EXPIRED, "key")


def test_a_button_that_there_is_not_means_an_old_page() -> None:
    with pytest.raises(Refused):
        past.Correct.of(sent(key="k" * 16, what="burn"))


def test_what_is_typed_stays_as_typed_and_boxes_are_gathered() -> None:
    form = past.Refund.of(
        sent(key="k" * 16, payment="7", lines=["3", "x", "5"], refund=" 1,50 ", **{"refund-tip": "0"})
    )
    assert (form.lines, form.refund, form.refund_tip, form.payment) == ((3, 5), " 1,50 ", "0", 7)
    assert form.as_typed()["lines"] == "3,5"
    taken = jobs.DropOff.of(
        sent(key="k" * 16, tasks=["wax", ""], sure="yes", **{"quantity-line": "2.5", "pieces-line": "1"})
    )
    assert taken.chosen() == {"wax": ("1", ""), "line": ("2.5", "1")}
    assert taken.sure
    counted = till.Count.of(sent(key="k" * 16, n500=" 3 ", total="", n="7"))
    assert counted.pieces([1000, 500]) == {"n1000": "", "n500": "3", "total": ""}


def test_what_is_shown_again_is_what_was_typed_and_no_secret() -> None:
    given = {
        "version": "1",
        "payer": "3",
        "key": "k" * 16,
        "take": "5",
        "extra": "tip",
        "number": "4000",
        "code": "123",
    }
    assert tenders.Keyed.of(sent(**given, expiry="09/29")).typed() == {"take": "5", "extra": "tip", "expiry": "09/29"}
    lent = till.Close.of(sent(key="k" * 16, lender="odile", pin="407118"))
    assert lent.typed() == {"lender": "odile"}


def test_a_file_where_a_text_was_asked_for_is_no_text() -> None:
    form = tenders.Cash.of(sent(version="1", payer="3", key="k" * 16, take=UploadFile(file=None)))  # type: ignore[arg-type]  # never read
    assert form.take == ""
