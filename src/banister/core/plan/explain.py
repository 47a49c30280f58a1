"""In words: why a bead is as it is, what blocks a plan, and what would free it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from itertools import islice

from banister.core.remark import OUTSIDE, WARNING, Finding
from banister.core.joint.joint import Joint, RodUse, joint_faults
from banister.core.plan.sides import sides_of
from banister.core.plan import rules
from banister.core.plan.layers import FEWEST, Layer, LayerProgram, Wish
from banister.core.plan.options import options_for
from banister.core.rods.rod import Rod

MOST_REMEDIES = 4
TRIAL_STEP_MM = 0.2
SUP = "mm\N{SUPERSCRIPT TWO}"


def why_bead(joint: Joint, program: LayerProgram, layer: Layer) -> str:
    """Which rule made the bead so, in one or two sentences."""
    o, d = layer.option, layer.option.rod.diameter_mm
    window = f"Bead area {o.low:.0f} to {o.high:.0f} {SUP} ({o.origin})."
    if layer.role == "root" and joint.open_root:
        return (f"Open root: must stand at least {rules.throat_mm(joint):.1f} mm high to burn the root face "
                f"through. {window}")  # fmt: skip
    if layer.role == "hot":
        return f"Hot pass: thin and flat, burns out what the root left at its toes. {window}"
    width = float(program.groove.width(layer.y1))
    if layer.role == "cap":
        width = program.cap_width
        if layer.count == 1:
            return f"Cap {width:.1f} mm wide: one bead reaches both edges ({o.across_mm:.1f} at most). {window}"
        return (f"Cap {width:.1f} mm wide: {layer.count} beads of a {o.stringer_mm:.1f} mm stringer, each covering "
                f"about half of the one before. {window}")  # fmt: skip
    if layer.count == 1:
        return (f"One bead reaches both walls: {width:.1f} mm wide, {o.across_mm:.1f} at most for {d:g} mm core. "
                f"{window}")  # fmt: skip
    return (f"{width:.1f} mm wide: {layer.count} beads at {width / layer.count:.1f} mm pitch (0.4 to 0.8 of a "
            f"{o.stringer_mm:.1f} mm stringer). {window}")  # fmt: skip


def bridging_findings(joint: Joint, program: LayerProgram) -> list[Finding]:
    """What the gap and the root face ask of the root rods, where it is outside the rule."""
    if joint.backing == "bar" and joint.bar_gap_mm > rules.GAP_UNDER_BAR_MM:
        return [_bar_gap(joint)]
    roots = program.options["root"]
    if not joint.open_root or any(all(rules.bridging_cores(joint, o.rod)) for o in roots):
        return []
    low, high = rules.BRIDGED_GAP_CORES
    found = []
    d = rules.bridging_core_mm(roots[0].rod)
    gap_ok, face_ok = rules.bridging_cores(joint, roots[0].rod)
    if not gap_ok:
        wide = joint.root_gap_mm > high * d
        found.append(Finding(
            "root.gap", WARNING, f"root gap {joint.root_gap_mm:g} mm is too {'wide' if wide else 'tight'} for {d:g} mm core",
            f"Set the gap to {low * d:.1f} to {high * d:.1f} mm, take a {'larger' if wide else 'smaller'} root rod"
            + (", build up an edge, or use a bar." if wide else ", or grind it open."),
            value=joint.root_gap_mm, unit="mm", min=low * d, max=high * d, basis="typical"))  # fmt: skip
    if not face_ok:
        most = rules.BRIDGED_FACE_CORES * d
        found.append(Finding(
            "root.face", WARNING, f"root face {joint.root_face_mm:g} mm is heavy for {d:g} mm core",
            f"Grind it to {most:.1f} mm or less, or take a larger root rod.",
            value=joint.root_face_mm, unit="mm", max=most, basis="typical"))  # fmt: skip
    return found


def _bar_gap(joint: Joint) -> Finding:
    return Finding(
        "bar.gap", WARNING, f"the bar stands {joint.bar_gap_mm:g} mm off the plate: slag and metal run under it",
        f"Bring it within {rules.GAP_UNDER_BAR_MM:g} mm: clamp it, or tack it tight.",
        value=joint.bar_gap_mm, unit="mm", max=rules.GAP_UNDER_BAR_MM, basis="typical")  # fmt: skip


def fillet_findings(joint: Joint) -> list[Finding]:
    """A fit-up gap takes its own size off the leg on the standing plate."""
    gap = joint.root_gap_mm
    if not joint.kind.fillet or gap <= rules.FILLET_GAP_FREE_MM:
        return []
    return [Finding(
        "fillet.gap", WARNING, f"the plates are {gap:g} mm apart: the leg counts {gap:g} mm less and slag runs in",
        f"Close the gap to {rules.FILLET_GAP_FREE_MM:g} mm, or make both legs {gap:g} mm longer.",
        value=gap, unit="mm", max=rules.FILLET_GAP_FREE_MM, basis="typical; enter your code's limit")]  # fmt: skip


def blocked(joint: Joint, whole: Joint, rods: Mapping[str, Rod], program: LayerProgram) -> tuple[Finding, ...]:
    """Why no plan is allowed: the stage that fails, and the changes of the whole joint that free it."""
    wish = Wish(FEWEST)
    freed = list(islice(_freeing(whole, rods), MOST_REMEDIES))
    remedy = "Freed by: " + "; ".join(freed) + "." if freed else "No single change that was tried frees it."
    if not program.roots(wish):
        return (_root_blocked(joint, program, remedy),)
    if not any(program.caps(wish)):
        o = program.options["cap"][0]
        return (Finding(
            "cap.blocked", OUTSIDE,
            f"no cap fits: {program.cap_width:.1f} mm wide, beads of {o.low:.0f} to {o.high:.0f} {SUP} with {o.rod.id}",
            remedy, value=program.cap_width, unit="mm", basis=o.origin),)  # fmt: skip
    return (_fill_blocked(program, remedy),)


def _root_blocked(joint: Joint, program: LayerProgram, remedy: str) -> Finding:
    smallest = min(o.rod.diameter_mm for o in program.options["root"])
    if not joint.open_root:
        return Finding(
            "root.bar", OUTSIDE,
            f"no rod fits down to the {'bar' if joint.backing == 'bar' else 'root'}: gap {joint.root_gap_mm:g} mm, and a {smallest:g} mm core needs "
            f"{rules.ROD_FITS_CORES * smallest:.1f} mm of width within one bead's height", remedy,
            value=joint.root_gap_mm, unit="mm", basis="typical")  # fmt: skip
    widest = rules.WIDEST_GAP_CORES * max(rules.bridging_core_mm(o.rod) for o in program.options["root"])
    if joint.root_gap_mm > widest:
        return Finding(
            "root.gap", OUTSIDE, f"an open gap of {joint.root_gap_mm:g} mm cannot be bridged: {widest:g} mm at most with "
            "the largest root rod", "Close the gap, build up an edge, or weld on a bar. " + remedy,
            value=joint.root_gap_mm, unit="mm", max=widest, basis="typical")  # fmt: skip
    return Finding(
        "root.throat", OUTSIDE,
        f"no root bead reaches {rules.throat_mm(joint):.1f} mm over a {joint.root_face_mm:g} mm root face "
        "inside the windows", remedy, value=joint.root_face_mm, unit="mm", basis="typical")  # fmt: skip


def _fill_blocked(program: LayerProgram, remedy: str) -> Finding:
    smallest = min((o.rod.diameter_mm for o in program.options["fill"]), default=0.0)
    return Finding(
        "fill.blocked", OUTSIDE,
        f"no chain of layers leads from the root to the cap: a layer is {rules.THICKNESS_CORES[0]:g} to "
        f"{rules.WEAVE_THICKNESS_CORES:g} core diameters thick and {rules.ROD_FITS_CORES:g} wide at least "
        f"({rules.ROD_FITS_CORES * smallest:.1f} mm for the smallest rod)", remedy, basis="typical")  # fmt: skip


def _plannable(joint: Joint, rods: Mapping[str, Rod]) -> bool:
    if joint_faults(joint):
        return False
    for side in sides_of(joint):
        options, reasons = options_for(side.joint, rods, side.groove)
        if reasons or LayerProgram(side.joint, side.groove, options, TRIAL_STEP_MM).solve(Wish(FEWEST)) is None:
            return False
    return True


def _freeing(joint: Joint, rods: Mapping[str, Rod]) -> Iterator[str]:
    """Single changes, tried one after the other; those after which a plan exists."""
    for text, changed in _changes(joint, rods):
        if _plannable(changed, rods):
            yield text


def _changes(joint: Joint, rods: Mapping[str, Rod]) -> Iterator[tuple[str, Joint]]:
    for quantity in sorted({window.quantity for window in joint.windows}):
        kept = tuple(w for w in joint.windows if w.quantity != quantity)
        yield f"without the {quantity.replace('_', ' ')} window", replace(joint, windows=kept)
    for gap in (1.0, 2.0, 3.0, 4.0, 6.0, -1.0, -2.0, -3.0, -5.0):
        wider = round(joint.root_gap_mm + gap, 1)
        if wider < 0:
            continue
        yield f"root gap {wider:g} mm", replace(joint, root_gap_mm=wider)
    for role in ("root", "hot", "fill", "cap"):
        types = {rods[r].type for r in joint.rods_for(role) if r in rods}
        others = [r for r in rods.values() if r.type in types and r.id not in joint.rods_for(role)]
        for rod in others:
            yield f"{rod.id} offered for the {role}", replace(joint, rods=(*joint.rods, RodUse(role=role, rod=rod.id)))
    if joint.preparation != "square":
        for more in (5.0, 10.0, 15.0):
            right = joint.bevel_right_deg + more
            left = joint.bevel_left_deg + more
            yield f"bevel {right:g}\N{DEGREE SIGN}", replace(joint, bevel_left_deg=left, bevel_right_deg=right)
