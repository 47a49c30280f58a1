"""A limit and a measure, and what comes of holding one against the other: the only place where a verdict is made."""

from __future__ import annotations

from collections.abc import Mapping

from banister.core.limits.windows import Bounds
from banister.core.remark import INSIDE, NO_PLACE, NOT_JUDGED, OUTSIDE, SURE, Figure, Place, Remark
from banister.core.value import Struct


class Measure(Struct, frozen=True):
    """What was planned, computed or read: a figure of a kind, and where."""

    value: float
    kind: str
    place: Place = NO_PLACE


class Limit(Struct, frozen=True):
    """A window on a quantity; `code` names the words of what comes of it.

    `basis` says where it comes from (windows, procedure, acceptance), `source` names the rule or clause.
    A limit that is not sure judges nothing, whichever way it points; nor does one that nobody set.
    """

    code: str
    window: Bounds
    basis: str = ""
    source: str = ""
    certainty: str = SURE

    def held(self, measure: Measure, /, **figures: Figure) -> Remark:
        """The remark on a measure, with further figures its words need."""
        verdict = self.window.verdict(measure.value) if self.certainty == SURE else NOT_JUDGED
        said = {"value": Figure(measure.value, measure.kind), "window": self.window.figure(measure.kind)} | figures
        return Remark(self.code, verdict, said, measure.place, self.basis, self.source, self.certainty)


def listed(code: str, is_inside: bool | None, source: str, figures: Mapping[str, Figure], place: Place = NO_PLACE, certainty: str = SURE) -> Remark:
    """The remark on something that is held against a list; `is_inside` is None where there is no list."""
    sure = certainty == SURE and is_inside is not None
    verdict = (INSIDE if is_inside else OUTSIDE) if sure else NOT_JUDGED
    return Remark(code, verdict, figures, place, "procedure", source, certainty)
