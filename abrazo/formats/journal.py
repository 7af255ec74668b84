"""The double-entry journal as plain text, one entry a paragraph: values in, text out.

The form is the one that plain-text accounting programs read: `open` lines for accounts, then dated entries with a flag,
who and what in quotes, and one line per leg with amount and currency.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.ledger import Posting
from abrazo.core.money import Currency


@dataclass(frozen=True, slots=True)
class JournalEntry:
    """An entry with its business date (ISO 8601), who, what, and its legs in minor units."""

    business_date: str
    who: str
    what: str
    postings: tuple[Posting, ...]


def account_name(account: str) -> str:
    """An account's name with capitals, for example Assets:Cash:Galley."""
    return ":".join(_capital(part) for part in account.split(":"))


def _capital(part: str) -> str:
    plain = "".join(c if c.isascii() and (c.isalnum() or c == "-") else "-" for c in part)
    return (plain[:1].upper() + plain[1:]) or "X"


def _quoted(words: str) -> str:
    return '"' + words.replace("\\", "\\\\").replace('"', '\\"') + '"'


def journal_text(entries: Iterable[JournalEntry], currency: Currency) -> str:
    """The whole journal; accounts are opened on the first date on which they are used."""
    blocks, opened = list[str](), dict[str, str]()
    for entry in entries:
        lines = [f"{entry.business_date} * {_quoted(entry.who)} {_quoted(entry.what)}"]
        for posting in entry.postings:
            name = account_name(posting.account)
            opened.setdefault(name, entry.business_date)
            lines.append(f"  {name}  {currency.text(posting.amount)} {currency.code}")
        blocks.append("\n".join(lines))
    head = [f"{date} open {name} {currency.code}" for name, date in sorted(opened.items())]
    return "\n".join(head) + "\n\n" + "\n\n".join(blocks) + "\n"
