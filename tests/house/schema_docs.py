"""docs/data.md, made from the comments of the schema: every table, one line each column."""

from __future__ import annotations

import re
from importlib import resources

HEAD = """# Data

Every table of a house's database, one line each column. This page is made from the comments of
`abrazo/store/migrations/` by `make schemas`; a test holds it to them.

Money is whole minor units of the house's currency. What ends in `_at` is UTC (ISO 8601, with Z), but for bookings, due
times and orders, which are wall time of the house. Rates, percents and quantities are decimal text. Flags are 0 or 1.
`→ table` names what a column points to.
"""
TABLE = re.compile(r"^-- (?P<about>[^\n]+)\nCREATE TABLE (?P<name>\w+) \(\n(?P<body>.*?)^\) STRICT;", re.M | re.S)
DROPPED = re.compile(r"^DROP TABLE (\w+);", re.M)
ADDED = re.compile(r"^ALTER TABLE (\w+) ADD COLUMN ([^\n;]+); -- ([^\n]+)$", re.M)  # by a later migration
COLUMN = re.compile(r"^  (?P<name>[a-z_]+) (?P<type>INTEGER|TEXT|REAL|BLOB)(?P<rest>[^\n]*(?:\n {20,}[^\n]*)*)$", re.M)


def sections(sql: str) -> list[tuple[str, str]]:
    """The parts of the schema, each with its heading."""
    parts = re.split(r"^-- ==== ([^\n]+)$", sql, flags=re.M)
    return list(zip(parts[1::2], parts[2::2], strict=True))


def columns(body: str) -> list[tuple[str, str, str]]:
    """(name, what it may be, what it is) of every column of a table."""
    found = []
    for column in COLUMN.finditer(body):
        rule, _, about = column["rest"].partition("-- ")
        points = re.search(r"REFERENCES (\w+)", rule)
        among = re.search(r"IN \(([^)]*)\)", rule)
        kind = column["type"].lower() + ("" if "NOT NULL" in rule or "PRIMARY KEY" in rule else ", or NULL")
        kind += f" → {points[1]}" if points else ""
        kind += (
            " (" + ", ".join(part.strip().strip("'") or "empty" for part in among[1].split(",")) + ")" if among else ""
        )
        found.append((column["name"], kind, about.strip()))
    return found


def page() -> str:
    """The whole page."""
    folder = resources.files("abrazo.store") / "migrations"
    sql = "\n".join(
        f.read_text("utf-8") for f in sorted(folder.iterdir(), key=lambda f: f.name) if f.name.endswith(".sql")
    )
    last = {table["name"]: table["body"] for table in TABLE.finditer(sql)}  # of one that was made anew its last shape
    gone = {
        name for name in DROPPED.findall(sql) if sql.rindex(f"DROP TABLE {name};") > sql.rfind(f"CREATE TABLE {name} (")
    }
    added = [(table, f"  {column} -- {about}\n") for table, column, about in ADDED.findall(sql)]
    out = [HEAD]
    for heading, part in sections(sql):
        tables = [one for one in TABLE.finditer(part) if one["name"] not in gone and last[one["name"]] == one["body"]]
        if tables:
            out.append(f"\n## {heading}\n")
        for table in tables:
            more = "".join(column for name, column in added if name == table["name"])
            out.append(f"\n### {table['name']}\n\n{table['about']}\n\n| column | kind | what |\n|---|---|---|")
            out += [f"| `{name}` | {kind} | {about} |" for name, kind, about in columns(table["body"] + more)]
            out.append("")
    return re.sub(r"\n{3,}", "\n\n", "\n".join(out)).rstrip() + "\n"
