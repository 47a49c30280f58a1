"""Which rods may serve which role in a joint, and what forbids the others."""

from __future__ import annotations

from collections.abc import Mapping

from banister.core.remark import OUTSIDE, Finding
from banister.core.joint.groove import Groove
from banister.core.joint.joint import ROLES, Joint
from banister.core.joint.positions import FLAT, HORIZONTAL, VERTICAL_DOWN
from banister.core.plan import rules
from banister.core.plan.rules import Option
from banister.core.rods.rod import Rod

NEEDED = ("root", "fill", "cap")


def options_for(
    joint: Joint, rods: Mapping[str, Rod], groove: Groove, stretch: float = 1.0
) -> tuple[dict[str, tuple[Option, ...]], tuple[Finding, ...]]:
    """Options by role, and the reasons why there can be no plan at all."""
    reasons = list(_refused(joint))
    options: dict[str, tuple[Option, ...]] = {}
    for role in ROLES:
        chosen = [rods[rod] for rod in joint.rods_for(role) if rod in rods]
        for rod in joint.rods_for(role):
            if rod not in rods:
                reasons.append(Finding("rods.unknown", OUTSIDE, f"{role}: rod {rod} is not in the job",
                                       "Choose a rod from the catalogue."))  # fmt: skip
        allowed = [rod for rod in chosen if not _forbidden(joint, rod, role)]
        if not allowed and role in NEEDED:
            why = _forbidden(joint, chosen[0], role) if chosen else "no rod is chosen"
            reasons.append(Finding("rods." + role, OUTSIDE, f"{role}: {why}",
                                   "Choose another rod for the " + role + "."))  # fmt: skip
        if role == "root" and joint.open_root:
            bridging = [rod for rod in allowed if all(rules.bridging_cores(joint, rod))]
            allowed = bridging or allowed
        options[role] = tuple(rules.option_of(joint, rod, role, groove, stretch) for rod in allowed)
        if options[role] and role in NEEDED and not any(o.is_open for o in options[role]):
            reasons.append(_closed(role, options[role]))
    return options, tuple(reasons)


def _refused(joint: Joint) -> list[Finding]:
    if joint.open_root and joint.second_side == "none" and joint.preparation == "square" and joint.thickness_mm > rules.SQUARE_OPEN_UP_TO_MM:
        return [Finding(
            "square.thickness", OUTSIDE,
            f"a square butt {joint.thickness_mm:g} mm thick is not welded through from one side",
            f"Bevel the edges, weld on a bar, or keep to {rules.SQUARE_OPEN_UP_TO_MM:g} mm.",
            value=joint.thickness_mm, unit="mm", max=rules.SQUARE_OPEN_UP_TO_MM, basis="typical",
        )]  # fmt: skip
    return []


def _forbidden(joint: Joint, rod: Rod, role: str) -> str:
    """Why a rod cannot be used for a role in this position, or ''."""
    if rod.process == "GTAW":
        return "" if role == "root" else f"{rod.id} is planned for the root only: fill goes with covered electrodes"
    attitudes = set(joint.attitudes(role))
    if rod.family == "basic" and attitudes - {FLAT, HORIZONTAL} and rod.diameter_mm > rules.BASIC_UPHILL_MOST_MM + 0.05:
        return f"{rod.id} is too large for vertical or overhead ({rules.BASIC_UPHILL_MOST_MM:g} mm at most)"
    if VERTICAL_DOWN in attitudes and rod.family != "cellulosic":
        return f"{rod.id} is not made to be run downhill"
    return ""


def _closed(role: str, options: tuple[Option, ...]) -> Finding:
    o = options[0]
    return Finding(
        f"windows.{role}", OUTSIDE,
        f"{role}: with {o.rod.id} at {o.amps:g} A the windows leave no bead size "
        f"(at least {o.low:.1f}, at most {o.high:.1f} mm\N{SUPERSCRIPT TWO})",
        "Widen the heat input, travel or run-out window, or offer another size of rod.",
        value=o.low, unit="mm\N{SUPERSCRIPT TWO}", max=o.high, basis=o.origin,
    )  # fmt: skip
