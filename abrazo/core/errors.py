"""Why an act was refused.

Refused            a rule says no; carries a code, a sentence and, for input, a JSON pointer
"""

from __future__ import annotations


class Refused(Exception):
    """A rule says no. `what` is a sentence for a person; `where` an RFC 6901 JSON pointer into the input."""

    def __init__(self, code: str, what: str, where: str = "", **facts: object) -> None:
        super().__init__(what)
        self.code = code
        self.what = what
        self.where = where
        self.facts = facts

    def at(self, where: str) -> Refused:
        """The same refusal, naming another place."""
        return Refused(self.code, self.what, where, **self.facts)


def pointer(*steps: str | int) -> str:
    """A JSON pointer from its steps, escaped as RFC 6901 section 3 says."""
    return "".join("/" + str(step).replace("~", "~0").replace("/", "~1") for step in steps)
