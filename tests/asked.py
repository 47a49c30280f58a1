"""What the tests of errands have done in processes beside them: a module by itself, so that these read nothing else for it."""

from __future__ import annotations

import time
from collections.abc import Iterator


def told(value: int, after_s: float = 0.0) -> int:
    time.sleep(after_s)
    return value


def counted(n: int, each_s: float) -> Iterator[int]:
    for i in range(n):
        time.sleep(each_s)
        yield i


def wrong(value: int) -> int:
    raise ZeroDivisionError(f"value {value}")
