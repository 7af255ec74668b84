"""Settings of a process from a TOML file: what options and the environment leave out.

An option counts first, then `ABRAZO_…` in the environment, then the file, then what the program comes with. In the file
a setting stands on top for every command that has it, or in a table of one command.
"""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from pathlib import Path
from typing import Any

Known = Mapping[str, frozenset[str]]  # the settings of each command, by its name


class BadSettings(Exception):
    """The file is none, or says what no command knows."""


def read_settings(file: Path, known: Known) -> dict[str, dict[str, Any]]:
    """What each command is given by the file. Raises BadSettings with everything that is wrong."""
    try:
        said = tomllib.loads(file.read_text("utf-8"))
    except OSError as fault:
        raise BadSettings(f"{file}: {fault.strerror}") from None
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as fault:
        raise BadSettings(f"{file} is no TOML file: {fault}") from None
    top = {name: value for name, value in said.items() if not isinstance(value, dict)}
    tables = {name: value for name, value in said.items() if isinstance(value, dict)}
    anywhere = frozenset[str]().union(*known.values())
    wrong = [f"no command has {name!r}" for name in top if name not in anywhere]
    wrong += [f"there is no command {name!r}" for name in tables if name not in known]
    for command, table in tables.items():
        wrong += [f"{command} has no {name!r}" for name in table if name not in known.get(command, frozenset(table))]
    if wrong:
        raise BadSettings(f"{file}: {'; '.join(wrong)}")
    return {
        command: {name: value for name, value in {**top, **tables.get(command, {})}.items() if name in names}
        for command, names in known.items()
    }
