"""Exit codes, and the fault of a wrong word on the command line."""

from __future__ import annotations

from banister.core.remark import Figure

INSIDE, OUTSIDE, USAGE, NOT_JUDGED, UNREADABLE = 0, 1, 2, 3, 4


class UsageFault(Exception):
    """What was typed cannot be meant; the words of `key` say what would be right."""

    def __init__(self, key: str, /, **figures: Figure | str) -> None:
        super().__init__(key)
        self.key, self.figures = key, figures
