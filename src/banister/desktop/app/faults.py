"""Faults nobody expected: logged to the state folder, the work kept, a report that can be copied."""

from __future__ import annotations

import logging
import platform
import sys
import traceback
from collections.abc import Callable
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

from banister import __version__

LARGEST_LOG, LOGS_KEPT = 500_000, 2
log = logging.getLogger("banister")


def state_folder() -> Path:
    """Where the log is, and work that was not saved (XDG state)."""
    import platformdirs

    return Path(platformdirs.user_state_dir("banister"))


def start_logging(folder: Path) -> str:
    """Log to a file that does not grow without end; where the folder cannot be written, to the error output. The reason, '' if all is well."""
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(levelname)s %(name)s: %(message)s")
    try:
        folder.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(folder / "banister.log", maxBytes=LARGEST_LOG, backupCount=LOGS_KEPT, encoding="utf-8")
    except OSError as error:
        return error.strerror or str(error)
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    logging.getLogger().addHandler(handler)
    return ""


def report_of(text: str) -> str:
    """A report to hand on: the fault with what it happened on; no path of this machine's user is in it."""
    for place, said in ((str(Path(__file__).parents[2]), "banister"), (sys.prefix, "python"), (sys.base_prefix, "python"), (str(Path.home()), "~")):
        text = text.replace(place, said) if len(place) > 1 else text
    return f"Banister {__version__}, Python {platform.python_version()}, {platform.platform()}\n{text}"


def hook(tell: Callable[[str], None]) -> None:
    """Have every unexpected fault logged and told, instead of ending in silence."""

    def caught(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        text = "".join(traceback.format_exception(kind, error, trace))
        log.error("unexpected fault\n%s", text)
        tell(report_of(text))

    sys.excepthook = caught
