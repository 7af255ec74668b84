"""Reading ESC/POS: what a printer would put on paper. Written from the command set, apart from what wrote the bytes.

Commands known: ESC @ (start), ESC t n (code page), ESC a n (align), ESC d n (feed), GS h, GS w, GS f, GS H (bars),
GS k m n (bars, form B), GS v 0 m (a picture, row by row), GS V m [n] (cut).
Source: the ESC/POS command set as printers document it (from memory).
"""

from __future__ import annotations

from dataclasses import dataclass

PAGES = {0: "cp437", 2: "cp850", 16: "cp1252", 19: "cp858"}
ONE = {b"\x1bt", b"\x1ba", b"\x1bd", b"\x1dh", b"\x1dw", b"\x1df", b"\x1dH"}  # commands with one byte after them


class NotUnderstood(ValueError):
    """Bytes that no printer of this kind understands."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet as it leaves the printer: its text, the codes printed as bars, whether it was cut."""

    text: str
    codes: tuple[str, ...]
    cut: bool


def read_paper(data: bytes) -> Sheet:
    """What these bytes print."""
    page, text, codes, cut, at = "cp437", list[str](), list[str](), False, 0
    while at < len(data):
        command = data[at : at + 2]
        if data[at] not in (0x1B, 0x1D):
            text.append(data[at : at + 1].decode(page))
            at += 1
        elif command == b"\x1b@":
            page, at = "cp437", at + 2
        elif command in ONE:
            if command == b"\x1bt":
                page = PAGES.get(data[at + 2], "cp437")
            at += 3
        elif command == b"\x1dv":
            wide, high = (
                int.from_bytes(data[at + 4 : at + 6], "little"),
                int.from_bytes(data[at + 6 : at + 8], "little"),
            )
            text.append(f"[picture, {wide * 8} by {high} dots]\n")
            at += 8 + wide * high
        elif command == b"\x1dk":
            length = data[at + 3]
            codes.append(data[at + 4 : at + 4 + length].decode("ascii").removeprefix("{B"))
            at += 4 + length
        elif command == b"\x1dV":
            cut, at = True, at + (4 if data[at + 2] in (65, 66) else 3)
        else:
            raise NotUnderstood(f"no command {command!r} at byte {at}")
    return Sheet("".join(text).strip("\n"), tuple(codes), cut)
