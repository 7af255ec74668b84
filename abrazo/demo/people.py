"""The people of Marram Boathouse. All made up; phone numbers lie in the range kept for fiction (020 91x xxxx)."""

from __future__ import annotations

import random

# name, phone, e-mail, household, company, notes
NAMED = (
    ("Elis Lindqvist-Amari", "020 910 0101", "elis@lindqvist.example", "Lindqvist-Amari", "", "left-handed paddle"),
    ("Signe Amari", "020 910 0102", "signe@lindqvist.example", "Lindqvist-Amari", "", ""),
    ("Ivo Lindqvist-Amari", "020 910 0103", "", "Lindqvist-Amari", "", "boots size 36"),
    ("Saltpan Rowers", "020 910 0110", "boats@saltpan.example", "", "yes", "four members row on Saturdays"),
    ("Theo Brandvold", "020 910 0120", "theo@brandvold.example", "", "", ""),
    ("Marguerite Oyelaran", "020 910 0130", "m.oyelaran@tide.example", "", "", "Tidekeeper since 2023"),
    ("Cass Whitlock", "020 910 0140", "cass@whitlock.example", "", "", ""),
    ("Petra Moe", "020 910 0150", "petra@moe.example", "", "", ""),
    ("Teun Abara", "020 910 0151", "", "", "", ""),
    ("Saskia Dunmore", "020 910 0152", "saskia@dunmore.example", "", "", ""),
    ("Rui Albers", "020 910 0153", "", "", "", ""),
    ("Juno Ferreira", "020 910 0154", "juno@ferreira.example", "Ferreira", "", ""),
    ("Pax Ferreira", "020 910 0155", "", "Ferreira", "", ""),
    ("Fenna Okafor-Lind", "020 910 0156", "fenna@okafor.example", "", "", ""),
    ("Kees Tarrant", "020 910 0157", "", "", "", ""),
    ("Dorte Vance", "020 910 0158", "", "", "", ""),
    ("Oriel Tanaka-Breen", "020 910 0159", "oriel@breen.example", "", "", ""),
)
ACCOUNTS = ("Theo Brandvold", "Kees Tarrant")  # companies have one anyway
FIRST = ("Ada", "Bram", "Corin", "Delphine", "Edda", "Fergus", "Greta", "Hanno", "Ilse", "Joost", "Kaia", "Lorcan",
         "Mireille", "Nils", "Orla", "Pim", "Quill", "Runa", "Silas", "Thea")  # fmt: skip
LAST = ("Aldous", "Brekke", "Callow", "Dray", "Eversund", "Farrow", "Gorse", "Hollis", "Isbister", "Jarman", "Kelk",
        "Lowrie", "Marsden", "Norland", "Oakes", "Penrose", "Quayle", "Ravn", "Sorley", "Tern")  # fmt: skip
MORE = 60


def everybody() -> list[dict[str, str]]:
    """Facts of everybody, as they would be typed."""
    fields = ("name", "phone", "email", "household", "company", "notes")
    found = [dict(zip(fields, person, strict=True)) for person in NAMED]
    chance = random.Random(17)  # noqa: S311 (names, not a secret)
    names = [f"{first} {last}" for first in FIRST for last in LAST]
    for person in found:
        if person["name"] in ACCOUNTS:
            person["account"] = "yes"
    for number, name in enumerate(chance.sample(names, MORE)):
        mail = f"{name.lower().replace(' ', '.')}@post.example" if number % 3 else ""
        found.append({"name": name, "phone": f"020 912 {number:04d}", "email": mail})
    return found
