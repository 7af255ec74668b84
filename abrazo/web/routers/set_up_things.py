"""Set-up: house settings, and every kind of thing that a house is set up with, by their descriptions."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output import device_tests
from abrazo.desk.setup import logo as logos
from abrazo.desk.setup import planned, thing_files
from abrazo.desk.setup.fields import asked
from abrazo.desk.setup.house_settings import ONE, SECTIONS, SETTINGS, THINGS
from abrazo.desk.setup.kinds import KINDS
from abrazo.desk.setup.things import Change, Thing, add, change, latest_changes, one_of, retire, undo
from abrazo.formats import table_file
from abrazo.web import set_up_page as shown
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import set_up_things as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.set_up_frame import PAGES, frame, places_found
from abrazo.words import phrases as w

router = APIRouter(prefix="/set-up")
FIRST, PAPERS = SECTIONS[0], "papers"
MEDIA = {"csv": "text/csv", "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}


def _kind(id: str) -> Thing:
    if id not in KINDS:
        raise NotFound(f"nothing is set up under {id!r}")
    return KINDS[id]


# ---- house settings


def _settings(
    request: Request, house: House, actor: Actor, section: str, find: str = "", notice: Notice | None = None
) -> Response:
    found = list(shown.settings_found(house, find, section, notice.typed if notice else {}))
    changed = {id: one for one in reversed(latest_changes(house, SETTINGS, most=400)) for id in one.after}
    return page(request, house, actor, "set_up/settings.html", found=found, notice=notice,
                changed=changed, names={one.id: one.name for one in house.staff().values()},
                last_shown=shown.last_change(house, SETTINGS, ONE),
                places_found=places_found(house, find) if find else [],
                has_logo=bool(logos.logo_of(house)),
                **frame(here="" if find else f"settings {section}", find=find, section=section))  # fmt: skip


@router.get("")
def index(request: Request, house: OpenHouse, actor: SignedIn, find: str = "") -> Response:
    """Set-up: a search over everything, and the house's first settings."""
    return _settings(request, house, actor, FIRST, find)


@router.get("/house")
def settings(request: Request, house: OpenHouse, actor: SignedIn, section: str = FIRST, find: str = "") -> Response:
    """House settings of one section."""
    return _settings(request, house, actor, section if section in SECTIONS else FIRST, find)


@router.post("/house")
def decide(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Described]) -> Response:
    """One of them anew."""
    id = next((name for name in form.given if any(one.id == name for one in SETTINGS.fields)), "")
    if not id:
        raise NotFound("no such setting")
    section = SETTINGS.field(id).section
    try:
        change(house, actor, SETTINGS, Change(ONE, {id: form.given[id]}), form.key)
    except Refused as refusal:
        return _settings(request, house, actor, section, "", wrong(house, refusal, id).keeping(form.typed_again()))
    return RedirectResponse(urls.set_up_house(section), 303)


# ---- lists and sheets


@router.get("/list/{kind}")
def list_(
    request: Request, house: OpenHouse, actor: SignedIn, kind: str, find: str = "", retired: str = ""
) -> Response:
    """All of a kind, by what is looked for."""
    thing = _kind(kind)
    rows = shown.rows_of(house, thing, find, retired == "yes")
    return page(request, house, actor, "set_up/list.html", thing=thing, kind=kind, rows=rows[:400], more=rows[400:],
                retired=retired == "yes", **frame(here=kind, find=find))  # fmt: skip


def _sheet(
    request: Request, house: House, actor: Actor, thing: Thing, ref: str = "", notice: Notice | None = None
) -> Response:
    values = one_of(house, thing, ref) if ref else thing.defaults(house)
    typed = notice.typed if notice else {}
    fields = [shown.field_shown(house, thing, field, values, typed) for field in asked(house, thing.fields)]
    told = shown.changes_told(house, latest_changes(house, thing, ref, most=12)) if ref else []
    waiting = shown.plans_told(house, planned.planned_of(house, thing, ref)) if ref else []
    return page(request, house, actor, "set_up/sheet.html", thing=thing, kind=thing.id, ref=ref, fields=fields,
                planned=waiting, name=thing.name(values), ended=values.get("ended_at"), told=told, notice=notice,
                last_shown=shown.last_change(house, thing, ref) if ref else 0, **frame(here=thing.id))  # fmt: skip


@router.get("/list/{kind}/new")
def blank(request: Request, house: OpenHouse, actor: SignedIn, kind: str) -> Response:
    """A blank sheet."""
    return _sheet(request, house, actor, _kind(kind))


@router.post("/list/{kind}/new")
def add_one(request: Request, house: OpenHouse, actor: SignedIn, kind: str, form: Sent[forms.Described]) -> Response:
    """Something new of a kind."""
    thing = _kind(kind)
    try:
        ref = add(house, actor, thing, form.given, form.key)
    except Refused as refusal:
        return _sheet(request, house, actor, thing, "", wrong(house, refusal).keeping(form.typed_again()))
    return RedirectResponse(urls.set_up_thing(kind, ref), 303)


@router.get("/list/{kind}/{ref}")
def sheet(request: Request, house: OpenHouse, actor: SignedIn, kind: str, ref: str) -> Response:
    """One of a kind: all that is decided about it, and who changed what."""
    return _sheet(request, house, actor, _kind(kind), ref)


@router.post("/list/{kind}/{ref}")
def change_one(
    request: Request, house: OpenHouse, actor: SignedIn, kind: str, ref: str, form: Sent[forms.Described]
) -> Response:
    """Change it."""
    thing = _kind(kind)
    try:
        wanted = Change(ref, form.given, form.seen)
        if form.holds_from.strip():
            planned.plan(house, actor, thing, wanted, form.holds_from, form.key)
        else:
            change(house, actor, thing, wanted, form.key)
    except Refused as refusal:
        return _sheet(request, house, actor, thing, ref, wrong(house, refusal).keeping(form.typed_again()))
    return RedirectResponse(urls.set_up_thing(kind, ref), 303)


@router.post("/list/{kind}/{ref}/retire")
def retire_one(
    request: Request, house: OpenHouse, actor: SignedIn, kind: str, ref: str, form: Sent[forms.Retire]
) -> Response:
    """Retire it, or bring it back."""
    thing = _kind(kind)
    try:
        retire(house, actor, thing, ref, back=form.what == "back")
    except Refused as refusal:
        return _sheet(request, house, actor, thing, ref, wrong(house, refusal))
    return RedirectResponse(urls.set_up_thing(kind, ref), 303)


@router.post("/test")
def send_test(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.SendTest]) -> Response:
    """Whether a printer, drawer, mail server or text service answers."""
    notice = Notice("done", house.say(w.TEST_SENT), f"test_{form.what}", status=200)
    try:
        device_tests.send_test(house, actor, form.what, form.to)
    except Refused as refusal:
        notice = wrong(house, refusal).keeping({"to": form.to})
    if form.what in (device_tests.MAIL, device_tests.TEXT):
        return _settings(request, house, actor, "messages", "", notice)
    return _sheet(request, house, actor, KINDS["printers"], form.to, notice)


# ---- the picture on receipts


@router.get("/logo")
def logo(house: OpenHouse, actor: SignedIn) -> Response:
    """The picture at the head of receipts."""
    picture = logos.logo_of(house)
    if not picture:
        raise NotFound("there is no picture")
    return Response(picture, media_type="image/png")


@router.post("/logo")
def change_logo(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.ChangeLogo]) -> Response:
    """Another picture, or none any more."""
    try:
        if form.drop:
            logos.drop_logo(house, actor, form.key)
        else:
            logos.put_logo(house, actor, form.read_file(Code.NOT_PICTURE)[0], form.key)
    except Refused as refusal:
        return _settings(request, house, actor, PAPERS, "", wrong(house, refusal, "logo"))
    return RedirectResponse(urls.set_up_house(section=PAPERS), 303)


# ---- files


def _files(
    request: Request, house: House, actor: Actor, thing: Thing, notice: Notice | None = None, file: int = 0
) -> Response:
    found = thing_files.kept(house, thing.id, file)
    reading = thing_files.look_at(house, thing, found[0]) if found else None
    told = shown.reading_told(house, thing, reading) if reading else None
    return page(request, house, actor, "set_up/files.html", kind=thing.id, thing=thing, told=told,
                columns=thing_files.columns(thing), file=file, notice=notice, **frame(here=thing.id))  # fmt: skip


@router.get("/files/{kind}")
def files(request: Request, house: OpenHouse, actor: SignedIn, kind: str, file: int = 0) -> Response:
    """A kind of thing as a file, out and in; with a file, what it would do."""
    return _files(request, house, actor, _kind(kind), None, file)


@router.get("/files/{kind}/{name}.{form}")
def file_out(house: OpenHouse, actor: SignedIn, kind: str, name: str, form: str) -> Response:
    """All of a kind as a table."""
    thing = _kind(kind)
    if form not in ("csv", "xlsx"):
        raise NotFound(f"no {form} of {name}")
    rows = thing_files.written(house, thing)
    data = table_file.written_csv(rows).encode() if form == "csv" else table_file.written_xlsx(rows)
    headers = {"content-disposition": f'attachment; filename="{thing.id}.{form}"'}
    return Response(data, media_type=MEDIA[form], headers=headers)


@router.post("/files/{kind}/look")
def look_at(request: Request, house: OpenHouse, actor: SignedIn, kind: str, form: Sent[forms.LookAt]) -> Response:
    """Keep a file, and show what it would do."""
    thing = _kind(kind)
    try:
        data, name = form.read_file(Code.NOT_A_TABLE)
        thing_files.look_at(house, thing, data)
        number = thing_files.keep(house, actor, thing.id, data, name)
    except Refused as refusal:
        return _files(request, house, actor, thing, wrong(house, refusal, "file"))
    return RedirectResponse(urls.set_up_files(kind, file=number), 303)


@router.post("/files/{kind}")
def read_in(request: Request, house: OpenHouse, actor: SignedIn, kind: str, form: Sent[forms.ReadIn]) -> Response:
    """Do what the file says, all of it or nothing."""
    thing = _kind(kind)
    try:
        data, _ = thing_files.still_kept(house, thing.id, form.file)
        thing_files.read_in(house, actor, thing, data, form.key, form.holds_from)
    except Refused as refusal:
        return _files(request, house, actor, thing, wrong(house, refusal, "file"), form.file)
    return RedirectResponse(urls.set_up_list(kind), 303)


# ---- who changed what


def _changes(request: Request, house: House, actor: Actor, notice: Notice | None = None) -> Response:
    told = shown.changes_told(house, latest_changes(house))
    waiting = shown.plans_told(house, planned.all_planned(house))
    return page(
        request,
        house,
        actor,
        "set_up/changes.html",
        told=told,
        planned=waiting,
        notice=notice,
        **frame(here="changes"),
    )


@router.get("/changes")
def changes(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """What was changed last, of everything."""
    return _changes(request, house, actor)


@router.post("/changes")
def undo_one(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Undo]) -> Response:
    """Turn a change round, or take one back that is planned."""
    try:
        if form.plan:
            taken = planned.take_back(house, actor, form.plan)
            return RedirectResponse(_back(form.to, taken.thing, taken.ref), 303)
        made = undo(house, actor, THINGS, form.change)
    except Refused as refusal:
        return _changes(request, house, actor, wrong(house, refusal))
    return RedirectResponse(_back(form.to, made.thing, made.ref), 303)


def _back(to: str, thing: str, ref: str) -> str:
    if to not in ("sheet", "page"):
        return urls.set_up_changes()
    if to == "page" and thing in PAGES:
        return PAGES[thing]
    return urls.set_up_house() if thing == SETTINGS.id else urls.set_up_thing(thing, ref)
