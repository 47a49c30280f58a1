"""Techniques: ways of working, what each changes on a joint, what it buys and what it risks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import PROGRESSIONS
from banister.core.joint.working import SPLITS, RodUse
from banister.core.remark import Remark, fault, unknown_word
from banister.core.rods.rod import Rod
from banister.core.value import Struct
from banister.core.words import Speech


class TechniqueRod(Struct, frozen=True, kw_only=True):
    """Candidate rods of one type for a role, by core diameter."""

    role: str
    type: str
    sizes_mm: tuple[float, ...]


class Technique(Struct, frozen=True, kw_only=True):
    """One way of working. What is None or empty is left as the joint has it.

    The words of a shipped one are `technique.ID`, `.buys` and `.risks`; a user's own carries its title.
    """

    id: str
    title: str = ""
    buys: str = ""
    risks: str = ""
    uses: tuple[TechniqueRod, ...] = ()
    no_hot: bool = False
    stringers_only: bool | None = None
    split: str | None = None
    extra_cap_bead: bool | None = None
    root_progression: str | None = None

    def named(self, say: Speech) -> str:
        """Its title."""
        return self.title or say(f"technique.{self.id}")

    def bought(self, say: Speech) -> str:
        """What it buys."""
        return self.buys or say(f"technique.{self.id if not self.title else 'own'}.buys")

    def risked(self, say: Speech) -> str:
        """What it risks."""
        return self.risks or say(f"technique.{self.id if not self.title else 'own'}.risks")


def with_technique(joint: Joint, technique: Technique, rods: Sequence[Rod]) -> tuple[Joint, tuple[Rod, ...]]:
    """The joint welded by a school, and the rods that takes; sizes that do not exist are passed over."""
    found: list[tuple[str, Rod]] = []
    for use in technique.uses:
        of_type = [r for r in rods if r.type == use.type and not r.size_label]
        found += [(use.role, r) for size in use.sizes_mm for r in of_type if abs(r.diameter_mm - size) < 0.01]
    named = {role for role, _ in found}
    kept = [use for use in joint.working.rods if use.role not in named]
    uses = [*(RodUse(role=role, rod=rod.id) for role, rod in found), *kept]
    if technique.no_hot:
        uses = [use for use in uses if use.role != "hot"]
    changes = {name: value for name in ("stringers_only", "split", "extra_cap_bead") if (value := getattr(technique, name)) is not None}
    progression = joint.piece.root_progression if technique.root_progression is None else technique.root_progression
    changed = edited(joint, rods=tuple(uses), root_progression=progression, pins=(), **changes)
    return changed, tuple(rod for _, rod in found)


def technique_of(joint: Joint, rods: Mapping[str, Rod], title: str) -> Technique:
    """A joint's own way of working as a technique under a name."""
    sizes: dict[tuple[str, str], list[float]] = {}
    for use in joint.working.rods:
        rod = rods.get(use.rod)
        if rod is not None:
            sizes.setdefault((use.role, rod.type), []).append(rod.diameter_mm)
    return Technique(
        id="own-" + "-".join(title.lower().split()), title=title,
        uses=tuple(TechniqueRod(role=role, type=kind, sizes_mm=tuple(d)) for (role, kind), d in sizes.items()),
        no_hot=not joint.working.rods_for("hot"), stringers_only=joint.working.choices.stringers_only, split=joint.working.choices.split,
        extra_cap_bead=joint.working.choices.extra_cap_bead, root_progression=joint.piece.root_progression,
    )  # fmt: skip


def technique_faults(technique: Technique, shipped: bool = False) -> tuple[Remark, ...]:
    """What cannot be right in a technique; only a shipped one has its title in the table of words."""
    found = [] if technique.id and (technique.title or shipped) else [fault("technique.name", "title")]
    if technique.split is not None and technique.split not in SPLITS:
        found.append(unknown_word("split", technique.split, SPLITS))
    if technique.root_progression not in (None, "", *PROGRESSIONS):
        found.append(unknown_word("root_progression", technique.root_progression, PROGRESSIONS))
    return tuple(found)
