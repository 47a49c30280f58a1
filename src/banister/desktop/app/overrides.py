"""What our widgets put in the place of Qt's own functions: a fault in one of them is told like any other.

Under Python 3.11 an error that C code raised (`[].index(1)`, `1 / 0`) is on its way without an instance until somebody
catches it, and shiboken (6.8 to 6.12, tried) ends the process as it looks for its arguments. Caught once, it is whole.
"""

from __future__ import annotations

import functools
import sys
from collections.abc import Callable
from types import FunctionType
from typing import Any

from PySide6.QtCore import QObject


def guard_overrides() -> None:
    """From now on every class made of one of Qt's has its overrides guarded. From Python 3.12 on errors are whole from the start."""
    if sys.version_info < (3, 12):
        QObject.__init_subclass__ = classmethod(_guard)  # type: ignore[assignment, arg-type]


def overrides(kind: type) -> dict[str, FunctionType]:
    """The functions of a class that Qt calls in the place of its own."""
    own = {name: value for name, value in vars(kind).items() if isinstance(value, FunctionType) and not name.startswith("__")}
    qt = next((base for base in kind.__mro__[1:] if base.__module__.startswith("PySide6.")), object)
    return {name: value for name, value in own.items() if hasattr(qt, name)}


def _guard(kind: type[QObject], **keywords: Any) -> None:
    super(QObject, kind).__init_subclass__(**keywords)
    for name, override in overrides(kind).items():
        setattr(kind, name, _whole(override))


def _whole(override: Callable[..., Any]) -> Callable[..., Any]:
    @functools.wraps(override)
    def run(*arguments: Any) -> Any:
        try:
            return override(*arguments)
        except Exception:
            raise  # an instance now

    return run
