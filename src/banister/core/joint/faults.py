"""What is wrong with a description: figures out of their limits, words that are none, figures that do not go together."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Iterator

from banister.core.joint.figures import CHOICE_FIGURES, FIGURES, GROOVE_FIGURES, HEAT_FIGURES, PIECE_FIGURES, JointFigure
from banister.core.joint.heating import BORES, CATEGORIES, READING_LIMITS, RESTRAINTS, Reading
from banister.core.joint.joint import Joint, path_of
from banister.core.joint.kinds import BACKINGS, FORMS, KINDS, PROGRESSIONS, ROUND, SECOND_SIDES, SEQUENCES
from banister.core.joint.piece import OnPiece
from banister.core.joint.planning_week import typed_week
from banister.core.joint.preparation import Preparation
from banister.core.joint.repairing import repairing_faults
from banister.core.joint.wall import least_height_of_rounded
from banister.core.joint.working import ANSWERS, SPLITS, OwnRunOut, Pin, is_answer
from banister.core.limits.acceptance import ACCEPTANCE
from banister.core.limits.windows import ROLES, Window, window_faults
from banister.core.material.steel import steel_faults
from banister.core.remark import Figure, Refused, Remark, at, fault, unknown_word

MOST_FILLET_GAP_MM = 5.0
"""Root opening of a fillet beyond which it is no fillet any more (AWS D1.1 fit-up; enter from your copy)."""
RUN_OUT_MM = (20.0, 1500.0)
MOST_ALIKE = 9999
MOST_PIN, MOST_PINNED_BEADS = 1e4, 60
LEANING = 1.05
"""A leg is to be so much longer than its plate could stand upright under the other's face."""
LEAST_OPEN_MM = 0.1
"""A closed nose as thick as the plate leaves nothing to weld."""


def joint_faults(joint: Joint) -> tuple[Remark, ...]:
    """Everything that makes the description contradictory, each with its field."""
    single = [*_ranges(joint, CHOICE_FIGURES), *_ranges(joint, HEAT_FIGURES), *_words_of_working(joint), *_readings(joint.readings)]
    w = joint.working
    single += [at(f, "working") for f in working_faults(w.windows, w.own_run_out, w.pins)]
    single += [at(f, "metal") for f in steel_faults(joint.metal.steel)]
    single += [fault("welds.alike", "alike", most=Figure(MOST_ALIKE, "count"))] if not 1 <= joint.alike <= MOST_ALIKE else []
    single += _week(joint.week)
    single += repairing_faults(joint.repair, joint.prep) if joint.repair is not None else ()
    return (*geometry_faults(joint), *single)


def _week(week: str) -> Iterator[Remark]:
    try:
        if typed_week(week) != week:
            yield fault("joint.week", "week", text=Figure(week[:20], "name"))
    except Refused as refused:
        yield from refused.remarks


def geometry_faults(joint: OnPiece) -> tuple[Remark, ...]:
    """What is wrong with the preparation and the piece; figures are only held against one another where each is possible."""
    single = [*_ranges(joint, GROOVE_FIGURES), *_ranges(joint, PIECE_FIGURES), *_words_of_geometry(joint), *_positions(joint)]
    return tuple(single) if single else tuple(_together(joint))


def working_faults(windows: Iterable[Window], run_outs: Iterable[OwnRunOut], pins: Iterable[Pin]) -> Iterator[Remark]:
    """Faults of windows, own run-outs and pins."""
    for i, window in enumerate(windows):
        for found in window_faults(window):
            yield at(found, f"windows[{i}]")
    for i, run in enumerate(run_outs):
        if (wrong := run_out_fault(run.run_out_mm, f"own_run_out[{i}].run_out_mm")) is not None:
            yield wrong
    for i, pin in enumerate(pins):
        sizes = [v for v in (pin.x_mm, pin.y_mm, pin.area_mm2, pin.amps) if v is not None]
        absurd = any(not math.isfinite(v) or abs(v) > MOST_PIN for v in sizes) or any(v is not None and v <= 0 for v in (pin.area_mm2, pin.amps))
        if absurd or not 1 <= (1 if pin.beads is None else pin.beads) <= MOST_PINNED_BEADS:
            yield fault("pin.range", f"pins[{i}]")


def range_fault(joint: OnPiece, key: str, value: float) -> Remark | None:
    """The fault of one figure that lies outside its limits."""
    figure = FIGURES[key]
    if math.isfinite(value) and figure.low <= value <= figure.high:
        return None
    return fault("figure.range", path_of(joint, key), figure=Figure(figure.label, "word"), value=Figure(value, figure.kind),
                 window=Figure(figure.window, figure.kind))  # fmt: skip


def _ranges(joint: OnPiece, figures: Iterable[JointFigure]) -> Iterator[Remark]:
    """A figure that this kind of joint does not have is nothing to mend there; that it is none at all is said of every one."""
    is_known = joint.prep.key in KINDS and joint.piece.form in FORMS
    for figure in figures:
        value = figure.of(joint)
        if figure.low <= value <= figure.high or (is_known and math.isfinite(value) and not figure.applies(joint)):
            continue
        if (found := range_fault(joint, figure.key, value)) is not None:
            yield found


def _words_of_geometry(joint: OnPiece) -> Iterator[Remark]:
    prep, piece = joint.prep, joint.piece
    yield from _unknown(
        ("prep.key", prep.key, KINDS), ("prep.backing", prep.backing, BACKINGS), ("prep.second_side", prep.second_side, SECOND_SIDES),
        ("piece.form", piece.form, FORMS), ("piece.progression", piece.progression, PROGRESSIONS),
        ("piece.root_progression", piece.root_progression, ("", *PROGRESSIONS)),
    )  # fmt: skip


def _words_of_working(joint: Joint) -> Iterator[Remark]:
    working, heat = joint.working, joint.heat
    yield from _unknown(
        ("working.sequence", working.sequence, SEQUENCES), *((("working.chosen", working.chosen, ANSWERS),) if not is_answer(working.chosen) else ()),
        ("working.choices.split", working.choices.split, SPLITS), ("working.choices.acceptance", working.choices.acceptance, ACCEPTANCE),
        ("heat.restraint", heat.restraint, RESTRAINTS), ("heat.bore", heat.bore, BORES), ("heat.category", heat.category, tuple(CATEGORIES)),
        *((f"working.rods[{i}].role", use.role, ROLES) for i, use in enumerate(working.rods)),
    )  # fmt: skip


def _unknown(*found: tuple[str, str, Collection[str]]) -> Iterator[Remark]:
    for field, value, known in found:
        if value not in known:
            yield unknown_word(field, value, known)


def _readings(readings: Iterable[Reading]) -> Iterator[Remark]:
    for i, reading in enumerate(readings):
        if (found := reading_fault(reading, f"readings[{i}]")) is not None:
            yield found


def run_out_fault(value: float, field: str = "") -> Remark | None:
    """What is wrong with a run-out that no rod has."""
    if RUN_OUT_MM[0] <= value <= RUN_OUT_MM[1]:
        return None
    return fault("run_out.range", field, value=Figure(value, "long_length"), window=Figure(RUN_OUT_MM, "long_length"))


def reading_fault(reading: Reading, field: str = "") -> Remark | None:
    """What is wrong with a measured temperature that cannot be right."""
    if all(low <= getattr(reading, name) <= high for name, (low, high) in READING_LIMITS.items()):
        return None
    low, high = READING_LIMITS["at_s"]
    return fault("reading.range", field, after=Figure((low / 60, high / 60), "minutes"), where=Figure(READING_LIMITS["x_mm"], "length"),
                 read=Figure(READING_LIMITS["temp_c"], "temperature"))  # fmt: skip


def _positions(joint: OnPiece) -> Iterator[Remark]:
    prep, piece = joint.prep, joint.piece
    if prep.key not in KINDS or piece.form not in FORMS:
        return
    try:
        joint.place  # noqa: B018
    except KeyError:
        what = "fillet" if prep.kind.fillet else piece.form
        yield fault("position.unknown", "piece.position", value=Figure(piece.position[:40], "name"), what=Figure(f"piece.{what}", "word"))


def _together(joint: OnPiece) -> Iterator[Remark]:
    """Figures that are each possible but not together, with what would fit."""
    prep, piece = joint.prep, joint.piece
    kind, t = prep.kind, prep.welded_thickness_mm
    if piece.form == "pipe" and prep.thickness_mm >= piece.pipe_od_mm / 2:
        yield fault("joint.wall", "prep.thickness_mm", most=_mm(piece.pipe_od_mm / 2))
    most_face = t - 2.0 if kind.double else t - LEAST_OPEN_MM if prep.backing == "closed" else t
    face_fits = not kind.has_face or prep.root_face_mm <= most_face
    if not face_fits:
        yield fault("joint.face.double" if kind.double else "joint.face", "prep.root_face_mm", most=_mm(max(most_face, 0.0)))
    if face_fits and not kind.fillet and prep.right_thickness_mm and not prep.taper:
        yield from _thinner(prep)
    knee_fits = kind.left != "compound" or prep.root_face_mm <= prep.knee_mm <= t
    if not knee_fits:
        yield fault("joint.knee", "prep.knee_mm", window=Figure((prep.root_face_mm, t), "fine_length"))
    if ROUND in kind.shapes and face_fits and knee_fits:
        yield from _radius(joint)
    if kind.double and prep.backing in ("bar", "ceramic"):
        yield fault("joint.backing.double", "prep.backing")
    bore = piece.pipe_od_mm - 2 * prep.thickness_mm
    if prep.two_sided and piece.form == "pipe" and bore < piece.least_bore_mm:
        yield fault("joint.inside", "prep.key" if kind.double else "prep.second_side", bore=_mm(bore), least=_mm(piece.least_bore_mm))
    if kind.fillet and prep.root_gap_mm > MOST_FILLET_GAP_MM:
        yield fault("joint.fillet.gap", "prep.root_gap_mm", gap=_mm(prep.root_gap_mm), most=_mm(MOST_FILLET_GAP_MM))
    if prep.key == "fillet-lap" and prep.leg_right_mm > prep.thickness_mm:
        yield fault("joint.lap", "prep.leg_right_mm", leg=_mm(prep.leg_right_mm), most=_mm(prep.thickness_mm))
    if kind.fillet:
        yield from _legs(prep)


def _thinner(prep: Preparation) -> Iterator[Remark]:
    """A right plate that is not tapered to must stand above the root: else its edge has no groove, and the root nothing to lie against."""
    right = prep.plate_heights_mm[1]
    root = prep.back_depth_mm + prep.root_face_mm if prep.kind.has_face else 0.0
    least = root + LEAST_OPEN_MM - min(prep.high_low_mm, 0.0)
    if right < least:
        yield fault("joint.thinner", "prep.right_thickness_mm", right=_mm(right), least=_mm(least))


def _legs(prep: Preparation) -> Iterator[Remark]:
    """Under a right angle the plate of a leg much shorter than the other hangs over the face of the fillet."""
    short, long = sorted((prep.leg_left_mm, prep.leg_right_mm))
    least = LEANING * long * math.cos(math.radians(prep.fillet_angle_deg))
    if short < least:
        field = "prep.leg_left_mm" if prep.leg_left_mm == short else "prep.leg_right_mm"
        yield fault("joint.legs", field, leg=_mm(long), angle=Figure(prep.fillet_angle_deg, "angle"), least=_mm(least))


def _radius(joint: OnPiece) -> Iterator[Remark]:
    prep = joint.prep
    angles = [a for shape, a in ((prep.kind.left, prep.bevel_left_deg), (prep.kind.right, prep.bevel_right_deg)) if shape == ROUND]
    needed = max(least_height_of_rounded(0.0, prep.root_radius_mm, angle) for angle in angles)
    depth = min(prep.front_depth_mm, prep.back_depth_mm) if prep.kind.double else prep.front_depth_mm
    if needed > depth:
        fits = math.floor(10 * depth / least_height_of_rounded(0.0, 1.0, max(angles))) / 10
        yield fault("joint.radius", "prep.root_radius_mm", radius=_mm(prep.root_radius_mm), depth=_mm(depth), fits=_mm(fits))


def _mm(value: float) -> Figure:
    return Figure(value, "fine_length")
