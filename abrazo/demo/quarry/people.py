"""The people of Quarry Lake. All made up; phone numbers lie in the range kept for fiction (555-01xx)."""

from __future__ import annotations

# name, e-mail, household, company, notes; phones are counted up
NAMED = (
    ("Alma Castellane-Ruiz", "alma@castellane.example", "Castellane-Ruiz", "", ""),
    ("Bruno Castellane-Ruiz", "", "Castellane-Ruiz", "", "boots size 10"),
    ("Noemi Castellane-Ruiz", "noemi@castellane.example", "Castellane-Ruiz", "", ""),
    ("Upper Ledge Summer School", "office@upperledge.example", "", "yes", "boats on Mondays"),
    ("Halvard Niles", "halvard@niles.example", "", "", ""),
    ("Greer Addington", "greer@addington.example", "", "", ""),
    ("Tobiah Wren-Kessler", "tobiah@kessler.example", "", "", "outboard only, two-stroke"),
    ("Marisol Quist", "marisol@quist.example", "", "", ""),
    ("Desmond Achebe-Lund", "desmond@lund.example", "", "", ""),
    ("Ilka Farnsworth", "ilka@farnsworth.example", "", "", ""),
    ("Rafferty Oduya", "", "", "", ""),
    ("Perpetua Lindgren", "perpetua@lindgren.example", "", "", ""),
    ("Cormac Yellin", "cormac@yellin.example", "", "", ""),
    ("Anneke Duquesne", "", "", "", ""),
    ("Thaddeus Morrow", "thaddeus@morrow.example", "", "", ""),
    ("Odalys Brightwater", "odalys@brightwater.example", "", "", ""),
    ("Kit Sorensen-Vale", "", "", "", ""),
    ("Wilhelmina Tran", "mina@tran.example", "", "", ""),
    ("Ezra Pellegrin", "ezra@pellegrin.example", "", "", ""),
    ("Juniper Haddad", "", "", "", ""),
    ("Lysander Boone", "lysander@boone.example", "", "", ""),
    ("Petronella Ash", "", "", "", ""),
    ("Ansel Okonkwo", "ansel@okonkwo.example", "", "", ""),
    ("Birdie Vandermeer", "birdie@vandermeer.example", "", "", ""),
    ("Cyprian Hale", "", "", "", ""),
    ("Dorothea Kim-Larsen", "dorothea@kimlarsen.example", "", "", ""),
    ("Fitzgerald Onwu", "", "", "", ""),
    ("Guinevere Stroud", "gwen@stroud.example", "", "", ""),
    ("Horatio Beckett-Ng", "", "", "", ""),
    ("Imogen Tallow", "imogen@tallow.example", "", "", ""),
)
ACCOUNTS = ("Halvard Niles",)  # companies have one anyway


def everybody() -> list[dict[str, str]]:
    """Facts of everybody, as they would be typed."""
    return [
        {
            "name": name, "phone": f"+1 312 555 {100 + number:04d}", "email": email, "household": household,
            "company": company, "notes": notes, "account": "yes" if name in ACCOUNTS else "",
        }
        for number, (name, email, household, company, notes) in enumerate(NAMED)
    ]  # fmt: skip
