"""A process beside the window: how it is started, and its life."""

from __future__ import annotations

import contextlib
import ctypes
import multiprocessing
import os
import signal
import traceback
from collections.abc import Iterator
from multiprocessing.connection import Connection
from typing import Any

BEGUN, PART, END, FAULT, READY = "begun", "part", "end", "fault", "ready"
PR_SET_PDEATHSIG = 1
NICENESS = 10
"""The window comes first where cores are few: edits at the pace of a hand were held up by what the last one had asked for."""
PRELOADED = ("banister.desktop.work.worker", "banister.desktop.work.plans", "banister.core.heat.line", "banister.core.heat.advice")


def started(name: str) -> tuple[Any, Connection]:
    """A process that serves a lane, and our end of the pipe to it."""
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(list(PRELOADED))
    ours, theirs = context.Pipe()
    process = context.Process(target=serve, args=(theirs,), name=f"banister {name}", daemon=True)
    with contextlib.closing(theirs), contextlib.ExitStack() as unless_started:
        unless_started.enter_context(contextlib.closing(ours))
        process.start()
        unless_started.pop_all()
    return process, ours


def serve(connection: Connection) -> None:
    """The worker's life: one errand after another until the window is gone."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(NICENESS)
    try:
        connection.send((0, READY, None))
        while True:
            token, work, request = connection.recv()
            connection.send((token, BEGUN, None))
            try:
                for part in parts(work(*request)):
                    connection.send((token, PART, part))
                connection.send((token, END, None))
            except OSError:
                raise
            except Exception:  # noqa: BLE001  whatever an errand raises is told, and the lane goes on
                connection.send((token, FAULT, traceback.format_exc()))
    except (EOFError, OSError):
        return


def parts(result: Any) -> Iterator[Any]:
    """The values of an errand's work, one or several."""
    if isinstance(result, Iterator):
        yield from result
    else:
        yield result
