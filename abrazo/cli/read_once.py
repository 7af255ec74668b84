"""What every process of a house needs, read once, by the one of which the others are copies: it does nothing else."""

import gc

import anyio._backends._asyncio  # else read by the first that answers a page
import anyio.streams.tls
import escpos.printer

import abrazo.web.main
import abrazo.worker.worker
from abrazo.web.pages import compiled

assert all((anyio.streams.tls, anyio._backends._asyncio, escpos.printer, abrazo.web.main, abrazo.worker.worker))
compiled("en")
gc.freeze()  # the copies share it for good
