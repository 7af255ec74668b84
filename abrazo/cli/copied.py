"""The process of which others are copies: it reads what all need, and leaves a SIGTERM that is sent to all to them.

Whoever stops a house may tell each of its processes to end; this one ends when the others have, so that these do it in
their own time.
"""

import functools
import os
import signal

import abrazo.cli.read_once

assert abrazo.cli.read_once
signal.signal(signal.SIGTERM, signal.SIG_IGN)
os.register_at_fork(after_in_child=functools.partial(signal.signal, signal.SIGTERM, signal.SIG_DFL))
