"""Checks the whole matrix: `.venv/bin/python -m tests.matrix.run` (all processors, half an hour on two).

One answer only, a few minutes: `... run balanced`. The other preparations: `... run breadth`.

A joint counts as inside the bridging rules when a root rod bridges its gap and face (open), or when
the smallest root rod fits between the walls within one bead's height (bar).
"""

from __future__ import annotations

import itertools
import json
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

from banister.core.joint.defaults import with_backing, with_preparation
from banister.core.joint.faults import joint_faults
from banister.core.joint.joint import Joint, edited
from banister.core.joint.working import ANSWERS, RodUse
from banister.core.plan import rules
from banister.core.plan.answers import plan_answer, study_of
from banister.core.plan.inputs import inputs_of
from banister.core.plan.sides import sides_of
from banister.core.words import Speech
from banister.job.library import shipped_rods, words

MATRIX = json.loads((Path(__file__).parent / "matrix.json").read_text(encoding="utf-8"))
RODS = {rod.id: rod for rod in shipped_rods()}
SAY = Speech(words())
LIMIT_MM = 2.5
Place = tuple[str, str, str]


Making = Callable[[], Joint]


def joints() -> Iterator[Making]:
    """Every joint of the matrix, each still to be made."""
    axes = (MATRIX[k] for k in ("thickness_mm", "root_gap_mm", "bevel_deg", "preparation", "backing", "position"))
    return (partial(_joint, *found) for found in itertools.product(*axes))


def _joint(t: float, gap: float, angle: float, prep: str, backing: str, place: Place) -> Joint:
    code, form, progression = place
    face = MATRIX["root_face_mm"]["below_8_mm" if t < 8 else "else"] if backing == "open" else 0.0
    uses = tuple(RodUse(role=role, rod=rod) for role, ids in MATRIX["rods"][backing].items() for rod in ids)
    return edited(
        Joint(id="m", name=f"{prep} {t} gap {gap} {angle} {backing} {code} {form}"), key=prep, thickness_mm=float(t),
        bevel_left_deg=float(angle) if prep == "single-v" else 0.0, bevel_right_deg=float(angle), root_face_mm=face,
        root_gap_mm=float(gap), backing=backing, form=form, pipe_od_mm=MATRIX["pipe_od_mm"], position=code,
        progression=progression, rods=uses,
    )  # fmt: skip


def breadth() -> Iterator[Making]:
    """The preparations of two angles, with radii and from both sides, on open roots and closed noses, each still to be made."""
    axes = MATRIX["breadth"]
    for t, gap, (prep, angles), share in itertools.product(axes["thickness_mm"], axes["root_gap_mm"], axes["preparation"].items(), axes["front_share"]):
        double = prep.startswith("double")
        if share != 0.5 and not double:
            continue
        for angle, place, backing in itertools.product(angles, MATRIX["position"], ("open", "closed") if double else ("open",)):
            if not (place[1] == "pipe" and double):
                yield partial(_broad, t, gap, prep, share, angle, place, backing)


def _broad(t: float, gap: float, prep: str, share: float, angle: float, place: Place, backing: str) -> Joint:
    code, form, progression = place
    uses = tuple(RodUse(role=role, rod=rod) for role, ids in MATRIX["rods"]["open" if backing == "open" else "bar"].items() for rod in ids)
    base = edited(Joint(id="m", name=""), thickness_mm=float(t), form=form, pipe_od_mm=MATRIX["pipe_od_mm"], position=code, progression=progression)
    joint = with_preparation(base, prep)
    if backing == "closed":
        joint = with_backing(joint, "closed")
    left = 0.0 if joint.prep.bevel_left_deg == 0.0 else float(angle)
    return edited(
        joint, name=f"{prep} {t} gap {gap} {angle} {backing} share {share} {code} {form}", bevel_left_deg=left, bevel_right_deg=float(angle),
        back_bevel_deg=float(angle), front_share=share, root_gap_mm=float(gap) if backing == "open" else 0.0, rods=uses,
    )  # fmt: skip


def bridged(joint: Joint) -> bool:
    """True inside the bridging rules."""
    roots = [RODS[use.rod] for use in joint.working.rods if use.role == "root"]
    if joint.prep.backing == "open":
        return any(all(rules.bridging_cores(inputs_of(joint), rod)) for rod in roots)
    core = min(rod.diameter_mm for rod in roots)
    return float(sides_of(inputs_of(joint))[0].groove.width(rules.WEAVE_THICKNESS_CORES * core)) >= rules.ROD_FITS_CORES * core


def verdicts(joint: Joint, answers: tuple[str, ...] = ANSWERS) -> list[tuple[str, str]]:
    """What became of each answer: planned, refused, or the rule it broke."""
    study = study_of(inputs_of(joint, tuple(RODS.values())))
    return [(answer, _verdict(joint, study, answer)) for answer in answers]


def _verdict(joint: Joint, study: object, answer: str) -> str:
    plan = plan_answer(study, answer)
    if not plan.feasible:
        said = all(SAY.text(reason) and SAY.remedy(reason) for reason in plan.reasons) and plan.reasons
        return ("refused" if not plan.passes else "cap refused") if said else "refused without a word"
    cap = plan.cap
    if cap.edge_min < -1e-9:
        return "cap below flush"
    if cap.min < rules.CAP_EDGE_HEIGHT_MM - 1e-9:
        return "cap under 0.5"
    if cap.max > LIMIT_MM + 1e-9:
        return "cap over the limit"
    if any(not p.area_window[0] * 0.999 <= p.area_mm2 <= p.area_window[1] * 1.001 for p in plan.passes):
        return "bead outside its window"
    if any(abs(p.simulated_area_mm2 - p.area_mm2) > 1e-6 for p in plan.passes):
        return "area not exact"
    return "planned"


def _one(making: Making, answers: tuple[str, ...]) -> tuple[str, bool, list[tuple[str, str]]]:
    joint = making()
    return joint.name, bridged(joint), [] if joint_faults(joint) else verdicts(joint, answers)


def main() -> int:
    """Check all of it; 1 if any rule is broken or less than 80 % of what is bridged is planned."""
    counts: Counter[tuple[bool, str]] = Counter()
    wanted = breadth() if "breadth" in sys.argv[1:] else joints()
    work = partial(_one, answers=tuple(a for a in ANSWERS if a in sys.argv[1:]) or ANSWERS)
    with ProcessPoolExecutor() as pool:
        for name, inside, found in pool.map(work, wanted, chunksize=16):
            for answer, verdict in found:
                counts[inside, verdict] += 1
                if verdict not in ("planned", "refused"):
                    print(f"{verdict}: {name} {answer}")
    for (inside, verdict), count in sorted(counts.items()):
        print(f"{'inside' if inside else 'outside'} the bridging rules, {verdict}: {count}")
    total = sum(n for (inside, _), n in counts.items() if inside)
    share = counts[True, "planned"] / total
    print(f"planned {share:.1%} of {total} inside the bridging rules")
    broken = sum(n for (_, verdict), n in counts.items() if verdict not in ("planned", "refused", "cap refused"))
    return 1 if broken or share < 0.8 else 0


if __name__ == "__main__":
    sys.exit(main())
