"""What a sound plan would lay next on a surface made by hand, and how many beads it would take from there."""

from __future__ import annotations

from banister.core.follow.rest import rest_of_side
from banister.core.plan.one_side import side_study, state_on
from banister.core.plan.plan import Pass
from banister.core.play.hand import Play
from banister.core.value import Struct, replace


class SoundNext(Struct, frozen=True):
    """The rest of a sound plan from a surface: its passes in the side's own coordinates; none where no plan goes on from there."""

    passes: tuple[Pass, ...]

    @property
    def next(self) -> Pass | None:
        """The bead it would lay first."""
        return self.passes[0] if self.passes else None


def sound_next(play: Play) -> SoundNext:
    """What is left of the plan it was begun from while nothing was laid by hand; else the rest of the side planned from what lies there.

    It is planned for the answer the joint has chosen.
    """
    if not play.laid and play.ahead:
        return SoundNext(tuple(replace(p, number=play.number + i) for i, p in enumerate(play.ahead)))
    study = side_study(play.side)
    if isinstance(study, tuple) or study.balanced is None or play.shape is not None:
        return SoundNext(())
    rest = rest_of_side(study, play.joint.working.chosen, state_on(study, play.surface, len(play.passes)))
    return SoundNext(tuple(replace(p, number=play.number + i) for i, p in enumerate(rest.passes)) if rest.feasible else ())
