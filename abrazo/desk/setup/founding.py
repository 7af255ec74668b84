"""Setting a house up, and opening it again."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path

from abrazo.core.states import PresetAbout
from abrazo.core.tax import Tax
from abrazo.desk.context import (
    MACHINES,
    Clock,
    Devices,
    House,
    Settings,
    ShiftedClock,
    key_file,
    owner_folder,
    paper_files,
    practice_folder,
)
from abrazo.desk.sign_in import check_new_pin, hash_pin
from abrazo.devices.simulator.served import stand_in_files
from abrazo.store import (
    adjustments,
    after_sale,
    benefits,
    catalogue,
    hires,
    memberships,
    prices,
    room,
    series,
    staff,
    stock,
    till,
)
from abrazo.store import settings as settings_store
from abrazo.store.adjustments import Preset
from abrazo.store.after_sale import AfterSaleRow
from abrazo.store.benefits import BenefitRow
from abrazo.store.catalogue import Category, ChoiceGroup, Item
from abrazo.store.db import ConnectionPool, atomic, checkpoint, connect, data_version
from abrazo.store.hires import HireKind, TariffRow, Unit
from abrazo.store.memberships import MembershipItem, MembershipKind
from abrazo.store.migrate import FileState, examine, keep_before, migrate
from abrazo.store.prices import PriceList
from abrazo.store.room import Spot
from abrazo.store.series import SeriesKind
from abrazo.store.staff import Staff
from abrazo.store.stock import Family, Variant
from abrazo.store.till import Till


@dataclass(frozen=True, slots=True)
class Plan:
    """Everything a house starts with. Taxes are (tax, rate text); staff are (person, PIN)."""

    settings: Settings
    taxes: tuple[tuple[Tax, str], ...]
    denominations: tuple[tuple[int, bool], ...]
    staff: tuple[tuple[Staff, str], ...]
    tills: tuple[Till, ...]
    groups: tuple[ChoiceGroup, ...]
    categories: tuple[Category, ...]
    items: tuple[tuple[Item, tuple[str, ...]], ...]
    spots: tuple[Spot, ...]
    presets: tuple[Preset, ...] = ()
    variable: tuple[str, ...] = ()  # items whose unit price may be overtyped
    lists: tuple[tuple[PriceList, Mapping[str, int]], ...] = ()
    families: tuple[tuple[Family, tuple[Variant, ...]], ...] = ()  # goods that differ in size and colour
    memberships: tuple[tuple[str, str, tuple[BenefitRow, ...]], ...] = ()  # (id, name, what it gives)
    sold_memberships: tuple[MembershipItem, ...] = ()  # items that sell a membership
    hire: tuple[HireKind, ...] = ()  # what is hired out
    tariffs: tuple[TariffRow, ...] = ()  # what a length of time costs
    units: tuple[Unit, ...] = ()  # the things themselves
    series: tuple[SeriesKind, ...] = ()  # what is prepaid; all items of one bear its tax
    shelves: Mapping[str, str] = field(default_factory=dict)  # where items lie
    anonymous_accounts: tuple[str, ...] = ()  # under which sales without a customer are kept apart
    petty_categories: tuple[str, ...] = ()  # what money is paid out of drawers for
    notes: tuple[tuple[str, str], ...] = ()  # requests that are written again and again, and for which report groups
    job_notes: tuple[str, ...] = ()  # notes that a drop-off offers
    job_places: tuple[str, ...] = ()  # where things lie
    after_sale: tuple[AfterSaleRow, ...] = ()  # what happens by itself when a ticket ends
    household_memberships: tuple[str, ...] = ()  # kinds that cover everybody of a household


def set_up(database: Path, plan: Plan) -> None:
    """Make a new house in an empty database; one transaction."""
    connection = connect(database)
    migrate(connection)
    for person, pin in plan.staff:
        check_new_pin(person, pin)
    hashed = [(person, hash_pin(pin), len(pin)) for person, pin in plan.staff]
    with atomic(connection):
        settings_store.add(connection, replace(plan.settings, secret=secrets.token_hex(32)))
        settings_store.put_anonymous_accounts(connection, plan.anonymous_accounts)
        till.put_petty_categories(connection, plan.petty_categories)
        for place, (tax, rate) in enumerate(plan.taxes):
            catalogue.add_tax(connection, tax, rate, place)
        for worth, is_note in plan.denominations:
            catalogue.add_denomination(connection, worth, is_note)
        for person, pin_hash, digits in hashed:
            staff.add(connection, person, pin_hash, digits)
        for one in plan.tills:
            till.add_till(connection, one)
        for group in plan.groups:
            catalogue.add_group(connection, group)
        for place, category in enumerate(plan.categories):
            catalogue.add_category(connection, category, place)
        for place, (item, groups) in enumerate(plan.items):
            catalogue.add_item(connection, item, place, groups)
        for family, variants in plan.families:
            stock.add_family(connection, family)
            for variant in variants:
                stock.add_variant(connection, variant)
        for one_item, shelf in plan.shelves.items():
            stock.set_shelf(connection, one_item, shelf)
        for place, (id, name, given) in enumerate(plan.memberships):
            memberships.add_kind(connection, MembershipKind(id, name, id in plan.household_memberships), place)
            for benefit in given:
                benefits.add_benefit(connection, benefit)
        for hired in plan.hire:
            hires.add_kind(connection, hired)
        for place, tariff in enumerate(plan.tariffs):
            hires.add_tariff(connection, tariff, place)
        for unit in plan.units:
            hires.add_unit(connection, unit)
        for sells in plan.sold_memberships:
            memberships.add_item(connection, sells)
        taxes = {item.id: item.tax for item, _ in plan.items}
        for prepaid in plan.series:
            if {taxes[item] for item in prepaid.items} != {taxes[prepaid.item]}:
                raise ValueError(f"the items of {prepaid.item} bear other taxes than it does")
            series.add_kind(connection, prepaid)
        for place, preset in enumerate(plan.presets):
            adjustments.add_preset(connection, preset, place)
        for one_item in plan.variable:
            catalogue.set_variable(connection, one_item, variable=True)
        for place, (price_list, by_item) in enumerate(plan.lists):
            prices.add_list(connection, price_list, place, dict(by_item))
        for place, (note, fitting) in enumerate(plan.notes):
            prices.add_preset(connection, PresetAbout.ITEM, note, place, fitting)
        for about, presets in ((PresetAbout.JOB, plan.job_notes), (PresetAbout.PLACE, plan.job_places)):
            for place, words in enumerate(presets):
                prices.add_preset(connection, about, words, place)
        for place, action in enumerate(plan.after_sale):
            after_sale.add(connection, action, place)
        for spot in plan.spots:
            room.add(connection, spot)
        settings_store.put(connection, ready=True)
    connection.close()


class NotAHouse(Exception):
    """A database that cannot be opened as a house; `state` says what it is."""

    def __init__(self, database: Path, state: FileState) -> None:
        super().__init__(f"{database}: {state.value}")
        self.state = state


def open_house(
    database: Path, devices: Devices, clock: Clock | None = None, *, known: bool = False, checkpoints: bool = True
) -> House:
    """A house on a connection of its own, of the newest shape; the clock is the house's own unless given.

    `known`: it was opened before. Without `checkpoints` no commit waits for one; another connection makes them.
    Raises NotAHouse, and leaves the file as it is, when it is something else, was written by a newer version, or is of
    an older one and no copy of it could be kept.
    """
    if not known and (state := examine(database)) is not FileState.HOUSE:
        raise NotAHouse(database, state)
    connection = connect(database, checkpoints=checkpoints)
    if not known:
        if not keep_before(connection, database):
            connection.close()
            raise NotAHouse(database, FileState.NO_COPY)
        migrate(connection)
    return House(connection, clock or ShiftedClock(settings_store.read(connection).clock_shift), devices)


def house_files(database: Path) -> list[Path]:
    """The exact files of a house and its stand-ins that exist, the database last."""
    beside = [*stand_in_files(database, MACHINES), *paper_files(database), owner_folder(database), key_file(database)]
    beside.append(practice_folder(database))
    own = [database.with_name(database.name + end) for end in ("-queue", "-wal", "-shm", "")]
    return [file for file in (*beside, *own) if file.exists()]


def move_house(database: Path, folder: Path) -> Path:
    """Move a house's files into a folder, made when it is missing; gives where its database is then."""
    folder.mkdir(parents=True, exist_ok=True)
    for file in house_files(database):
        file.rename(folder / file.name)
    return folder / database.name


class Houses:
    """The same house for one request after another, each on a connection of its own while it lasts."""

    def __init__(self, database: Path, devices: Devices, clock: Clock) -> None:
        self._devices, self._clock = devices, clock
        self._idle = ConnectionPool(database)

    def lend(self) -> House:
        """The house, until it is given back."""
        return House(self._idle.take(), self._clock, self._devices, {})

    def give_back(self, house: House) -> None:
        """It is free for the next."""
        self._idle.give_back(house.connection)

    def end(self, house: House) -> None:
        """It is not used again."""
        house.connection.close()

    def close(self) -> None:
        """Close what nobody uses."""
        self._idle.close()


def tidy_up(house: House) -> None:
    """What has to be done now and then while requests go on: the log of writes is brought into the database."""
    checkpoint(house.connection)


def change_mark(house: House) -> int:
    """A number that is another one after anybody else has confirmed something; it costs next to nothing."""
    return data_version(house.connection)


def close_house(house: House) -> None:
    """Close the house's connection."""
    house.connection.close()


def shift_clock(house: House, seconds: float) -> None:
    """Let the house's clock run `seconds` beside the machine's from the next start on; the house is ready with it."""
    with atomic(house.connection):
        settings_store.put(house.connection, clock_shift=seconds)
