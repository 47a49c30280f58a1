"""Schools of practice: what each changes on a joint, what it buys and what it risks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from banister.core.joint.joint import SPLITS, Joint, RodUse
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.plan import Plan
from banister.core.rods.rod import Rod


@dataclass(frozen=True, slots=True, kw_only=True)
class TechniqueRod:
    """Candidate rods of one type for a role, by core diameter."""

    role: str
    type: str
    sizes_mm: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Technique:
    """One school. What is None or empty is left as the joint has it."""

    id: str
    title: str
    buys: str
    risks: str
    uses: tuple[TechniqueRod, ...] = ()
    no_hot: bool = False
    stringers_only: bool | None = None
    split: str | None = None
    extra_cap_bead: bool | None = None
    root_progression: str | None = None

    @property
    def in_words(self) -> str:
        """What it buys and what it risks, in one line."""
        return f"{self.buys} {self.risks}"


def with_technique(joint: Joint, technique: Technique, rods: Sequence[Rod]) -> tuple[Joint, tuple[Rod, ...]]:
    """The joint welded by a school, and the rods that takes; sizes that do not exist are passed over."""
    found: list[tuple[str, Rod]] = []
    for use in technique.uses:
        of_type = [r for r in rods if r.type == use.type and not r.size_label]
        found += [(use.role, r) for size in use.sizes_mm for r in of_type if abs(r.diameter_mm - size) < 0.01]
    named = {role for role, _ in found}
    kept = [use for use in joint.rods if use.role not in named]
    uses = [*(RodUse(role=role, rod=rod.id) for role, rod in found), *kept]
    if technique.no_hot:
        uses = [use for use in uses if use.role != "hot"]
    choices = joint.choices
    changes = {name: value for name in ("stringers_only", "split", "extra_cap_bead") if (value := getattr(technique, name)) is not None}
    progression = joint.root_progression if technique.root_progression is None else technique.root_progression
    changed = replace(joint, rods=tuple(uses), choices=replace(choices, **changes), root_progression=progression, pins=())
    return changed, tuple(rod for _, rod in found)


def technique_plan(joint: Joint, technique: Technique, rods: Mapping[str, Rod]) -> Plan:
    """The joint planned by a school, for its chosen answer."""
    changed, named = with_technique(joint, technique, tuple(rods.values()))
    return plan_answer(study_of(changed, dict(rods) | {rod.id: rod for rod in named}), changed.chosen)


def technique_of(joint: Joint, rods: Mapping[str, Rod], title: str) -> Technique:
    """A joint's own way of working as a school under a name."""
    sizes: dict[tuple[str, str], list[float]] = {}
    for use in joint.rods:
        rod = rods.get(use.rod)
        if rod is not None:
            sizes.setdefault((use.role, rod.type), []).append(rod.diameter_mm)
    return Technique(
        id="own-" + "-".join(title.lower().split()), title=title, buys="Your own way.", risks="Yours to know.",
        uses=tuple(TechniqueRod(role=role, type=kind, sizes_mm=tuple(d)) for (role, kind), d in sizes.items()),
        no_hot=not joint.rods_for("hot"), stringers_only=joint.choices.stringers_only, split=joint.choices.split,
        extra_cap_bead=joint.choices.extra_cap_bead, root_progression=joint.root_progression,
    )  # fmt: skip


def technique_faults(technique: Technique) -> list[str]:
    """What cannot be right in a technique."""
    found = [] if technique.id and technique.title else ["a technique needs an id and a title"]
    if technique.split is not None and technique.split not in SPLITS:
        found.append(f"split '{technique.split}' is not one of {', '.join(SPLITS)}")
    if technique.root_progression not in (None, "", "up", "down"):
        found.append(f"root progression '{technique.root_progression}' is neither up nor down")
    return found
