"""A payer's receipt as plain text at 42 columns, the width of 80 mm paper."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

WIDTH = 42


@dataclass(frozen=True, slots=True)
class Receipt:
    """What a receipt says. Every amount is text already; rows are (words, amount).

    `blocks` are lines below, such as jobs left here and next visits; `code` is printed as bars under it.
    `things` are the lines without amounts, for a gift; `cashier` took the money where that was not who served.
    """

    house: str
    address: str
    ticket: int
    place: str
    payer: str
    currency: str
    business_date: str
    at: str
    server: str
    till: str
    rows: tuple[tuple[str, str], ...]
    total: str
    tip: str | None
    rounding: str | None
    paid: tuple[tuple[str, str], ...]
    due: str | None
    taxes: tuple[tuple[str, str], ...]
    message: str
    copy: int = 1
    blocks: tuple[tuple[str, ...], ...] = ()
    code: str = ""
    things: tuple[str, ...] = ()
    cashier: str = ""


def row(words: str, amount: str) -> list[str]:
    """Words left, amount right; long words run on into further lines."""
    room = WIDTH - len(amount) - 1
    lines = wrap(words, room)
    return [*lines[:-1], f"{lines[-1]:<{room}} {amount}"]


def wrap(words: str, room: int) -> list[str]:
    """Words in lines of at most `room` characters; a longer word is cut."""
    lines = [""]
    for word in words.split():
        while len(word) > room:
            lines.append(word[:room])
            word = word[room:]
        glued = f"{lines[-1]} {word}".strip()
        lines = [*lines[:-1], glued] if len(glued) <= room else [*lines, word]
    return [line for line in lines if line] or [""]


def rows(pairs: Iterable[tuple[str, str]]) -> list[str]:
    """Several rows, one after the other."""
    return [line for words, amount in pairs for line in row(words, amount)]


def slip_text(receipt: Receipt, copy_for: str) -> str:
    """A bill to be signed: what is due, with lines for tip, sum and signature; says for whom the copy is."""
    r, rule, blank = receipt, "-" * WIDTH, "_" * 16
    lines = [
        *(line.center(WIDTH).rstrip() for line in wrap(r.house, WIDTH)),
        "",
        *row(r.place if r.payer in (r.place, "customer") else f"{r.place}, {r.payer}", f"ticket {r.ticket}"),
        *row(f"{r.business_date} {r.at}", f"copy for the {copy_for}"),
        *wrap(f"Served by {r.server}", WIDTH),
        rule,
        *rows(r.rows),
        rule,
        *row(f"Bill, {r.currency}", r.total),
        *rows(r.paid),
        *row("To pay", r.due or r.total),
        "",
        *row("Tip", blank),
        "",
        *row("Together", blank),
        "",
        *row("Signature", blank),
        rule,
        *(line.center(WIDTH).rstrip() for line in wrap(r.message, WIDTH)),
    ]
    return "\n".join(lines)


def gift_text(receipt: Receipt) -> str:
    """A gift receipt: what was bought, when and where, without prices, payers or payments."""
    r, rule = receipt, "-" * WIDTH
    lines = [
        *(line.center(WIDTH).rstrip() for line in wrap(r.house, WIDTH)),
        *(line.center(WIDTH).rstrip() for line in wrap(r.address, WIDTH)),
        "",
        *row("Gift receipt", f"ticket {r.ticket}"),
        *wrap(r.business_date, WIDTH),
        rule,
        *(line for words in r.things for line in wrap(words, WIDTH)),
        rule,
        *(line.center(WIDTH).rstrip() for line in wrap(r.message, WIDTH)),
    ]
    return "\n".join(lines)


def receipt_text(receipt: Receipt) -> str:
    """The receipt as it prints."""
    r, rule = receipt, "-" * WIDTH
    copy = f"copy {r.copy}" if r.copy > 1 else ""
    lines = [
        *(line.center(WIDTH).rstrip() for line in wrap(r.house, WIDTH)),
        *(line.center(WIDTH).rstrip() for line in wrap(r.address, WIDTH)),
        "",
        *row(r.place if r.payer in (r.place, "customer") else f"{r.place}, {r.payer}", f"ticket {r.ticket}"),
        *row(f"{r.business_date} {r.at}", copy),
        *_by(r),
        rule,
        *rows(r.rows),
        rule,
        *row(f"Bill, {r.currency}", r.total),
        *(row("Tip, thank you", r.tip) if r.tip else []),
        *(row("Cash rounding", r.rounding) if r.rounding else []),
        *rows(r.paid),
        *(row("Still to pay", r.due) if r.due else []),
        rule,
        *rows(r.taxes),
        *(line for block in r.blocks for line in (rule, *block)),
        "",
        *(line.center(WIDTH).rstrip() for line in wrap(r.message, WIDTH)),
    ]
    return "\n".join(line.rstrip() for line in lines)


def _by(receipt: Receipt) -> list[str]:
    """Who served, and at which till; who took the money, where that was somebody else."""
    if not receipt.cashier:
        return wrap(f"Served by {receipt.server}, till {receipt.till}", WIDTH)
    return [
        *wrap(f"Served by {receipt.server}", WIDTH),
        *wrap(f"Paid to {receipt.cashier}, till {receipt.till}", WIDTH),
    ]


def short_text(receipt: Receipt) -> str:
    """A receipt in a text message: who, what was paid and how, what is still due, tax; without the lines."""
    said = [f"{receipt.house}, {receipt.business_date} {receipt.at}"]
    said.append(f"Ticket {receipt.ticket}: {receipt.total} {receipt.currency}")
    said += [f"Tip {receipt.tip}"] if receipt.tip else []
    said += [f"{words} {amount}".strip() for words, amount in receipt.paid]
    said += [f"Still due {receipt.due}"] if receipt.due else []
    said += [" ".join(tax) for tax in receipt.taxes]
    return "\n".join([*said, *([receipt.message] if receipt.message else [])])
