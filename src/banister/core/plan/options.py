"""Which rods may serve which role in a joint, and what forbids the others."""

from __future__ import annotations

from banister.core.joint.groove import Groove
from banister.core.joint.kinds import SQUARE
from banister.core.joint.positions import FLAT, HORIZONTAL, VERTICAL_DOWN
from banister.core.limits.windows import ROLES
from banister.core.plan import rules
from banister.core.plan.inputs import PlanInputs
from banister.core.plan.rules import Option
from banister.core.remark import NO_PLACE, Figure, Remark, outside
from banister.core.rods.rod import Rod

NEEDED = ("root", "fill", "cap")


def options_for(joint: PlanInputs, groove: Groove, stretch: float = 1.0) -> tuple[dict[str, tuple[Option, ...]], tuple[Remark, ...]]:
    """Options by role, and the reasons why there can be no plan at all."""
    reasons, rods = list(_refused(joint)), joint.rods_by_id
    options: dict[str, tuple[Option, ...]] = {}
    for role in ROLES:
        word = Figure(f"role.{role}", "word")
        chosen = [rods[rod] for rod in joint.rods_for(role) if rod in rods]
        reasons += [outside("rods.unknown", role=word, rod=Figure(rod, "rod")) for rod in joint.rods_for(role) if rod not in rods]
        refusals = {rod.id: _forbidden(joint, rod, role) for rod in chosen}
        allowed = [rod for rod in chosen if refusals[rod.id] is None]
        if not allowed and role in NEEDED:
            reasons.append(refusals[chosen[0].id] or _none(word) if chosen else _none(word))
        if role == "root" and joint.prep.open_root:
            bridging = [rod for rod in allowed if all(rules.bridging_cores(joint, rod))]
            allowed = bridging or allowed
        options[role] = tuple(rules.option_of(joint, rod, role, groove, stretch) for rod in allowed)
        if options[role] and role in NEEDED and not any(o.is_open for o in options[role]):
            reasons.append(_closed(joint, word, options[role][0]))
    return options, tuple(reasons)


def _none(role: Figure) -> Remark:
    return outside("rods.none", role=role)


def _refused(joint: PlanInputs) -> list[Remark]:
    prep, most = joint.prep, rules.SQUARE_OPEN_UP_TO_MM
    if prep.open_root and prep.second_side == "none" and prep.kind.shapes == {SQUARE} and prep.thickness_mm > most:
        return [outside("square.thickness", NO_PLACE, "typical", value=Figure(prep.thickness_mm, "length"), most=Figure(most, "length"),
                        window=Figure((None, most), "length"))]  # fmt: skip
    return []


def _forbidden(joint: PlanInputs, rod: Rod, role: str) -> Remark | None:
    """Why a rod cannot be used for a role in this position, None where it can."""
    figures = {"role": Figure(f"role.{role}", "word"), "rod": Figure(rod.id, "rod")}
    if rod.process == "GTAW":
        return None if role == "root" else outside("rods.tig", **figures)
    attitudes = set(joint.attitudes(role))
    if rod.family == "basic" and attitudes - {FLAT, HORIZONTAL} and rod.diameter_mm > rules.BASIC_UPHILL_MOST_MM + 0.05:
        return outside("rods.large", **figures, most=Figure(rules.BASIC_UPHILL_MOST_MM, "length"))
    if VERTICAL_DOWN in attitudes and rod.family != "cellulosic":
        return outside("rods.downhill", **figures)
    return None


def _closed(joint: PlanInputs, role: Figure, o: Option) -> Remark:
    """No bead size is left: the window that clashes with what the rod can lay, by name."""
    figures = {"role": role, "rod": Figure(o.rod.id, "rod"), "amps": Figure(o.amps, "current"), "low": Figure(o.low, "area"), "high": Figure(o.high, "area")}
    clash = rules.clashing_window(joint, o.rod, o.role)
    if clash is None:
        return outside("windows.closed", NO_PLACE, o.origin, **figures)
    return outside("windows.clash", NO_PLACE, "procedure", **figures, quantity=Figure(f"quantity.{clash[0]}", "word"), window=clash[1])
