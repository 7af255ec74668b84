"""Templates as they were compiled, kept on disk: a start after a crash does not compile two hundred of them again."""

from __future__ import annotations

import functools
import hashlib
import logging
from contextlib import suppress
from pathlib import Path

import jinja2
from jinja2 import FileSystemBytecodeCache
from jinja2.bccache import Bucket

import abrazo

log = logging.getLogger("abrazo")


class KeptTemplates(FileSystemBytecodeCache):
    """A folder of this user alone, as the library makes and checks it; one that cannot be written keeps nothing."""

    def dump_bytecode(self, bucket: Bucket) -> None:
        """Keep a template. A full disk only makes the next start slower."""
        with suppress(OSError):
            super().dump_bytecode(bucket)


def kept_templates() -> KeptTemplates | None:
    """What is kept of this very code; None where no folder can be had."""
    try:
        return KeptTemplates(pattern=f"abrazo-{_this_code()}-%s.cache")
    except (OSError, RuntimeError) as fault:
        log.warning("compiled templates are not kept: %s", fault)
        return None


@functools.cache
def _this_code() -> str:
    """What tells this code from any other: filters with constants are worked out when a template is compiled."""
    folder, found = Path(abrazo.__file__).parent, hashlib.sha256(jinja2.__version__.encode())
    for file in sorted(folder.rglob("*.py")):
        state = file.stat()
        found.update(f"{file.relative_to(folder)} {state.st_mtime_ns} {state.st_size}\n".encode())
    return found.hexdigest()[:16]
