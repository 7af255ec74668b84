"""`abrazo init`: a house of a profile in one command; every fault at once; the example holds, with every line of it."""

from __future__ import annotations

import re
import tomllib
from pathlib import Path

import pytest

from abrazo.cli import files
from abrazo.cli.people import set_pin
from abrazo.cli.profiles import example, init
from abrazo.core.states import Does
from abrazo.desk.context import Actor, Devices
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.overview.today import lenses_of
from abrazo.desk.payments import closing, tenders
from abrazo.desk.setup.fields import asked
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.setup.goods import ITEMS
from abrazo.desk.setup.house_settings import ONE, SETTINGS
from abrazo.desk.setup.profiles import Faulty, make_house
from abrazo.desk.setup.things import everything
from abrazo.desk.sign_in import sign_in
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till.opening import Float, open_day
from abrazo.store import catalogue

OUT = re.compile(r"^#(?=[a-z_]+ = )", re.M)  # a line of the example that is left out


def test_the_example_makes_a_house_that_sells(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    profile, db = tmp_path / "house.toml", tmp_path / "new" / "house.db"
    profile.write_text(example(), "utf-8")
    assert init(db, profile) == 0
    assert init(db, profile) == 2  # there is one already
    capsys.readouterr()
    house = open_house(db, Devices.beside(db))
    try:
        boss = next(iter(house.staff().values()))
        actor = Actor(sign_in(house, boss.id, "till-1", "604815").staff, house.tills()["till-1"])
        assert actor.till.name == "Bar" and {one.name for one in house.staff().values()} == {"Ada Moor", "Bo Lind"}
        open_day(house, actor, {"till-1": Float(5000)}, "opened")
        ticket = starting.seat(house, actor, "T1", 2, "seat")
        coffee = catalogue.find_items(house.connection, "coffee")[0]
        ticket_lines.add_line(house, actor, OnTicket(ticket, None, "pick"), ticket_lines.Picked(coffee.id))
        whole = load_ticket(house, ticket)  # at the price of the hour: the example has a list for two evenings
        tenders.take_cash(
            house, actor, OnTicket(ticket, None, "pay"), whole.payers[0].id, tenders.Sum(whole.bill.due), 500
        )
        closing.free_table(house, actor, OnTicket(ticket, None, "close"))
        assert soundness(house) == []
    finally:
        close_house(house)


def test_every_line_of_the_example_holds(tmp_path: Path) -> None:
    whole = OUT.sub("", example())
    assert len(whole) < len(example())
    make_house(tmp_path / "house.db", tomllib.loads(whole))
    make_house(tmp_path / "as_it_comes.db", tomllib.loads(example()))
    found = []
    for name in ("house.db", "as_it_comes.db"):
        house = open_house(tmp_path / name, Devices.beside(tmp_path / name))
        found.append(everything(house, SETTINGS)[ONE])
        close_house(house)
    assert found[0] == found[1]  # what is written there is what it begins with


def test_all_faults_at_once_and_nothing_made(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    profile, db = tmp_path / "house.toml", tmp_path / "new" / "house.db"
    wrong = (
        ('country = "AT"', 'country = "Austria"'), ('currency = "EUR"', 'currency = "EURO"'),
        ("[settings]", "[colours]\nx = 1\n[settings]"), ('pin = "604815"', 'pin = "12"'),
    )  # fmt: skip
    text = example()
    for good, bad in wrong:
        assert good in text
        text = text.replace(good, bad)
    profile.write_text(text, "utf-8")
    assert init(db, profile) == 2
    said = capsys.readouterr().err
    for where in ("colours: ", "house, country: ", "house, currency: ", "staff 1, pin: "):
        assert where in said
    inner = example().replace('price = "3.20"', 'price = "much"').replace('rate = "20"', 'rate = "x"')
    inner = inner.replace("[settings]", "[settings]\nfree_after = 900")
    profile.write_text(inner, "utf-8")
    assert init(db, profile, as_json=True) == 2
    said = capsys.readouterr().err
    for where in ("items 1, price: ", "taxes 1, rate: ", "settings, free_after: "):
        assert where in said
    profile.write_text("[house\n", "utf-8")
    assert init(db, profile) == 2
    assert not db.exists() and not list(db.parent.glob(".*"))


def test_what_a_house_does_not_do_shows_nowhere(tmp_path: Path) -> None:
    profile = tomllib.loads(example())
    profile["house"]["does"] = ["jobs"]
    make_house(tmp_path / "house.db", profile)
    house = open_house(tmp_path / "house.db", Devices.beside(tmp_path / "house.db"))
    assert (house.settings.does, lenses_of(house)) == (Does.JOBS, ["jobs"])
    hidden = {one.id for one in SETTINGS.fields} - {one.id for one in asked(house, SETTINGS.fields)}
    assert {"service_percent", "free_after", "tab_hold", "delivery_fee", "prep_places", "hire_prefix"} <= hidden
    assert "job_prefix" not in hidden and {one.id for one in ITEMS.fields} - {
        one.id for one in asked(house, ITEMS.fields)
    } == {"place", "minutes"}
    close_house(house)
    profile["house"]["does"] = ["dancing"]
    with pytest.raises(Faulty) as faulty:
        make_house(tmp_path / "other.db", profile)
    assert [one.where for one in faulty.value.faults] == ["house, does"]


def test_files_and_pins_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    db, file = tmp_path / "house.db", tmp_path / "items.csv"
    make_house(db, tomllib.loads(example()))
    assert files.write_out(db, "items", "csv", file) == 0
    assert files.read_file(db, "items", file, check=False, as_json=True) == 0
    assert '{"new": 0, "changed": 0, "unchanged": 5, "faults": []}' in capsys.readouterr().out
    file.write_text("name,price,category,report_group\nTea,2.60,Drinks,drinks\nWine,x,Drinks,drinks\n", "utf-8")
    assert files.read_file(db, "items", file, check=False, as_json=False) == 2
    assert "row 3, price: " in capsys.readouterr().err
    file.write_text("name,price,category,report_group\nTea,2.60,Drinks,drinks\n", "utf-8")
    assert files.read_file(db, "items", file, check=True, as_json=False) == 0
    assert files.read_file(db, "items", file, check=False, as_json=False) == 0
    assert set_pin(db, "bo lind", "7391") == 0
    assert set_pin(db, "bo lind", "1") == set_pin(db, "nobody", "7391") == 2
    house = open_house(db, Devices.beside(db))
    assert [one.name for one in catalogue.find_items(house.connection, "tea")] == ["Tea"]
    bo = next(one for one in house.staff().values() if one.name == "Bo Lind")
    assert sign_in(house, bo.id, "till-1", "7391").staff == bo
    close_house(house)
