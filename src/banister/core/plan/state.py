"""What planning of a side starts from: the bare groove is one state, a half-welded one another, in the middle of a layer too."""

from __future__ import annotations

from banister.core.beads.surface import Surface
from banister.core.plan.layers import Setting
from banister.core.plan.placing import LayerBegun
from banister.core.plan.sides import Side
from banister.core.value import Struct, replace

ROOT, HOT, FILL, DONE = "root", "hot", "fill", "done"
"""What comes next: the root, the hot pass, fill or cap, or nothing."""


class SectionState(Struct, frozen=True):
    """One side as it stands: its surface from left to right (mm), the level the next layer starts from, and what comes next.

    `layers` and `passes` are how many are done; `begun` is the layer that is begun, with what is left of it,
    `last` the rod and current last used.
    """

    side: str
    x: tuple[float, ...]
    y: tuple[float, ...]
    level: float = 0.0
    stage: str = ROOT
    layers: int = 0
    passes: int = 0
    begun: LayerBegun | None = None
    last: Setting | None = None

    @property
    def surface(self) -> Surface:
        """The surface the next bead is laid on."""
        return Surface(list(self.x), list(self.y))

    @property
    def is_bare(self) -> bool:
        """True before the first bead."""
        return self.passes == 0

    def with_bead(self, surface: Surface, begun: LayerBegun | None, setting: Setting) -> SectionState:
        """The state one bead later, in the same layer."""
        return replace(self, x=tuple(surface.x), y=tuple(surface.y), passes=self.passes + 1, begun=begun, last=setting)

    def next_layer(self, level: float, stage: str) -> SectionState:
        """The state when a layer is done."""
        return replace(self, level=level, stage=stage, layers=self.layers + 1, begun=None)


def bare(side: Side) -> SectionState:
    """A side with nothing welded."""
    surface = side.surface()
    return SectionState(side.name, tuple(surface.x), tuple(surface.y))
