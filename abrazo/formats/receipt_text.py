"""A payer's receipt as plain text at 42 columns, the width of 80 mm paper."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.words import phrases as w
from abrazo.words.speaking import Reader

WIDTH = 42


@dataclass(frozen=True, slots=True)
class Receipt:
    """What a receipt says, in a language (BCP 47). Every amount is text already; rows are (words, amount).

    `whose` is place and payer, or what of them is enough.

    `blocks` are lines below, such as jobs left here and next visits; `code` is printed as bars under it.
    `things` are the lines without amounts, for a gift; `cashier` took the money where that was not who served.
    """

    house: str
    address: str
    ticket: int
    place: str
    payer: str
    whose: str
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
    language: str = "en"
    void: tuple[tuple[str, str], ...] = ()  # of a ticket that was made void: who, when and why, what went back

    @property
    def reader(self) -> Reader:
        """Who reads it."""
        return Reader(language=self.language)


VOID_MARK = "* * *  VOID  * * *"


def _centred(text: str) -> list[str]:
    """Lines in the middle of the paper, each wrapped by itself."""
    return [line.center(WIDTH).rstrip() for said in text.splitlines() for line in wrap(said, WIDTH)]


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
    """A bill to be signed: what is due, with lines for tip, sum and signature; `copy_for` is a phrase."""
    r, rule, blank, say = receipt, "-" * WIDTH, "_" * 16, receipt.reader.say
    lines = [
        *_centred(r.house),
        "",
        *row(r.whose, say(w.PAPER_TICKET, number=r.ticket)),
        *row(f"{r.business_date} {r.at}", say(copy_for)),
        *wrap(say(w.SERVED_BY, name=r.server), WIDTH),
        rule,
        *rows(r.rows),
        rule,
        *row(say(w.BILL_IN, currency=r.currency), r.total),
        *rows(r.paid),
        *row(say(w.TO_PAY), r.due or r.total),
        "",
        *row(say(w.TIP_LINE), blank),
        "",
        *row(say(w.TOGETHER), blank),
        "",
        *row(say(w.SIGNATURE), blank),
        rule,
        *(line.center(WIDTH).rstrip() for line in wrap(r.message, WIDTH)),
    ]
    return "\n".join(lines)


def gift_text(receipt: Receipt) -> str:
    """A gift receipt: what was bought, when and where, without prices, payers or payments."""
    r, rule, say = receipt, "-" * WIDTH, receipt.reader.say
    lines = [
        *_centred(r.house),
        *_centred(r.address),
        "",
        *row(say(w.GIFT_RECEIPT), say(w.PAPER_TICKET, number=r.ticket)),
        *wrap(r.business_date, WIDTH),
        rule,
        *(line for words in r.things for line in wrap(words, WIDTH)),
        rule,
        *(line.center(WIDTH).rstrip() for line in wrap(r.message, WIDTH)),
    ]
    return "\n".join(lines)


def receipt_text(receipt: Receipt) -> str:
    """The receipt as it prints."""
    r, rule, say = receipt, "-" * WIDTH, receipt.reader.say
    copy = say(w.PAPER_COPY, number=r.copy) if r.copy > 1 else ""
    lines = [
        *_centred(r.house),
        *_centred(r.address),
        *([VOID_MARK.center(WIDTH).rstrip()] if r.void else []),
        "",
        *row(r.whose, say(w.PAPER_TICKET, number=r.ticket)),
        *row(f"{r.business_date} {r.at}", copy),
        *_by(r),
        rule,
        *rows(r.rows),
        rule,
        *row(say(w.BILL_IN, currency=r.currency), r.total),
        *(row(say(w.TIP_THANKS), r.tip) if r.tip else []),
        *(row(say(w.CASH_ROUNDING), r.rounding) if r.rounding else []),
        *rows(r.paid),
        *(row(say(w.STILL_TO_PAY), r.due) if r.due else []),
        *([rule, VOID_MARK.center(WIDTH).rstrip(), *rows(r.void)] if r.void else []),
        *([rule] if r.taxes or not r.blocks else []),
        *rows(r.taxes),
        *(line for block in r.blocks for line in (rule, *block)),
        "",
        *(line.center(WIDTH).rstrip() for line in wrap(r.message, WIDTH)),
    ]
    return "\n".join(line.rstrip() for line in lines)


def _by(receipt: Receipt) -> list[str]:
    """Who served, and at which till; who took the money, where that was somebody else."""
    say = receipt.reader.say
    if not receipt.cashier:
        return wrap(say(w.SERVED_AT, name=receipt.server, till=receipt.till), WIDTH)
    return [
        *wrap(say(w.SERVED_BY, name=receipt.server), WIDTH),
        *wrap(say(w.PAID_TO, name=receipt.cashier, till=receipt.till), WIDTH),
    ]


def short_text(receipt: Receipt) -> str:
    """A receipt in a text message: who, what was paid and how, what is still due, tax; without the lines."""
    say, said = receipt.reader.say, [f"{receipt.house}, {receipt.business_date} {receipt.at}"]
    said.append(say(w.SHORT_TICKET, number=receipt.ticket, total=receipt.total, currency=receipt.currency))
    said += [say(w.SHORT_TIP, amount=receipt.tip)] if receipt.tip else []
    said += [f"{words} {amount}".strip() for words, amount in receipt.paid]
    said += [say(w.SHORT_DUE, amount=receipt.due)] if receipt.due else []
    said += [" ".join(tax) for tax in receipt.taxes]
    return "\n".join([*said, *([receipt.message] if receipt.message else [])])
