"""The two drawing conventions: dimensions and welding symbols as ISO or as AWS have them."""

from __future__ import annotations

from collections.abc import Callable

from banister.core.value import Struct
from banister.core.words import Speech

ISO, AWS = "iso", "aws"
CONVENTIONS = (ISO, AWS)


class Labels(Struct, frozen=True):
    """What stands at a dimension: the convention's word for it and its size. Without a `say` nothing is written."""

    say: Speech | None = None
    convention: str = ISO

    def sized(self, mm: float, word: str = "") -> str:
        """A length, behind the word it is dimensioned by."""
        return self._written(lambda say: f"{self.word(word)} {say.sized('length', mm)}" if word else say.sized("length", mm))

    def word(self, key: str) -> str:
        """The convention's own word for a dimension."""
        return self._written(lambda say: say(f"dimension.{self.convention}.{key}"))

    def _written(self, write: Callable[[Speech], str]) -> str:
        return "" if self.say is None else write(self.say)
