"""Text messages by HTTP: one POST of JSON each; the protocol is docs/formats/text-messages.md.

Not reached at all, or 5xx, is Unreachable: nothing was sent, and it is tried again under the same reference. 4xx is a
fault that somebody looks at. Anything that goes wrong after the request went out is NoAnswer.
"""

from __future__ import annotations

from dataclasses import dataclass

import httpx2

from abrazo.devices.ports import DeviceFault, NoAnswer, Unreachable

CONNECT, ANSWER = 2.0, 10.0  # seconds


@dataclass(frozen=True, slots=True)
class HttpTexts:
    """What takes text messages at a URL; the house is known by its token, if it has one."""

    address: str
    token: str = ""

    def send(self, number: int, recipient: str, title: str, body: str) -> None:
        """Send a text message to a phone number (E.164), under our number for it."""
        said = {"reference": f"abrazo-{number}", "to": recipient, "title": title, "body": body}
        headers = {"authorization": f"Bearer {self.token}"} if self.token else {}
        timeout = httpx2.Timeout(ANSWER, connect=CONNECT)
        try:
            answer = httpx2.post(self.address, json=said, headers=headers, timeout=timeout, trust_env=False)
        except (httpx2.ConnectError, httpx2.ConnectTimeout) as fault:
            raise Unreachable("text messages cannot be sent: nothing answers") from fault
        except httpx2.HTTPError as fault:
            raise NoAnswer("text messages: no answer") from fault
        if answer.status_code >= 500:
            raise Unreachable(f"text messages cannot be sent: {answer.status_code}")
        if not answer.is_success:
            raise DeviceFault(f"the text message was refused: {answer.status_code}")
