"""How things are spelt on the command line: lengths, rods, windows and positions, each with a located fault."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TypeVar

from banister.cli.errors import UsageFault
from banister.core.joint.faults import joint_faults
from banister.core.joint.figures import JointFigure
from banister.core.joint.joint import Joint
from banister.core.joint.positions import positions, resolve
from banister.core.joint.working import OwnRunOut, RodUse
from banister.core.limits.windows import QUANTITIES, ROLES, Window, window_faults
from banister.core.material.steel import PRESETS, Steel, elements, hydrogen_class_ml
from banister.core.plan.spending import Rates, rates_faults
from banister.core.remark import Refused
from banister.core.rods.faults import rod_fault
from banister.core.rods.rod import Rod
from banister.core.typed import typed
from banister.core.value import replace

Value = TypeVar("Value")


def asked(option: str, read: Callable[[], Value]) -> Value:
    """A value read from an option; what it cannot be is told with the option's name."""
    try:
        return read()
    except Refused as refused:
        refused.add_note(option)
        raise


def rates(option: str, text: str) -> Rates:
    """Prices like 45,6,0.25: an hour, a kg of electrodes, a kWh."""
    parts = text.split(",")
    if len(parts) != len(Rates.__struct_fields__):
        raise UsageFault("cli.fault.rates", option=option, text=text)

    def read() -> Rates:
        found = Rates(**{name: typed(part, "money") for name, part in zip(Rates.__struct_fields__, parts, strict=True)})
        if faults := tuple(rates_faults(found)):
            raise Refused(*faults)
        return found

    return asked(option, read)


def number(text: str) -> float:
    """A plain number; ValueError, which is told with the option's name, for what is none and for what has no end.

    >>> number("2.5")
    2.5
    """
    value = float(text)
    if not math.isfinite(value):
        raise ValueError(text)
    return value


def figure(option: str, text: str, kind: str) -> float:
    """A figure of a kind, metric where no unit is written."""
    return asked(option, lambda: typed(text, kind))


def joint_figure(found: JointFigure, text: str) -> float:
    """A figure of the joint; its limits tell what a comma means."""
    return asked(found.option, lambda: typed(text, found.kind, low=found.low, high=found.high))


def angles(option: str, text: str) -> tuple[float, float]:
    """'30', or '30,35' for unlike sides (left, right)."""
    parts = text.split(",")
    if len(parts) > 2:
        raise UsageFault("cli.fault.angles", option=option)
    values = [figure(option, part, "angle") for part in parts]
    return values[0], values[-1]


def position_and_progression(code: str, form: str, progression: str | None) -> tuple[str, str]:
    """AWS position and progression from either code; a code that says up or down must agree."""
    try:
        position, said = resolve(code, form)
    except KeyError:
        known = ", ".join(f"{p.code} ({'/'.join(dict.fromkeys((p.iso_up, p.iso_down)))})" for p in positions(form))
        raise UsageFault(f"cli.fault.position.{form}", code=code, known=known) from None
    if said and progression and said != progression:
        raise UsageFault("cli.fault.progression", code=code, said=said, progression=progression)
    return position, said or progression or "up"


def rod_named(spec: str, catalogue: Sequence[Rod]) -> Rod:
    """The rod for 'E7018:4.0', 'E6010:3.2x350' or 'E7018:5/32'; another length makes a variant."""
    kind, _, size = spec.partition(":")
    size, _, long = size.partition("x")
    of_kind = [rod for rod in catalogue if rod.type == kind]
    if not of_kind:
        raise UsageFault("cli.fault.rod.type", type=kind, types=", ".join(sorted({r.type for r in catalogue})))
    found = [rod for rod in of_kind if size in (rod.size_label, f"{rod.diameter_mm:.1f}", f"{rod.diameter_mm:g}")]
    exact = [rod for rod in found if rod.size_label == size]
    metric = [rod for rod in found if not rod.size_label]
    found = exact or metric or found
    if not found:
        sizes = ", ".join(r.size_label or f"{r.diameter_mm:.1f}" for r in of_kind)
        raise UsageFault("cli.fault.rod.size", type=kind, size=size, sizes=sizes)
    if not long:
        return found[0]
    wanted = figure("--rod", long, "length")
    if (bad := rod_fault("length_mm", wanted)) is not None:
        refused = Refused(bad)
        refused.add_note("--rod")
        raise refused
    return next((r for r in found if abs(r.length_mm - wanted) < 0.5), replace(found[0], length_mm=wanted))


def rod_uses(specs: Sequence[str], catalogue: Sequence[Rod]) -> tuple[tuple[RodUse, ...], tuple[Rod, ...]]:
    """'role=rod' words as uses and the rods they name."""
    uses, rods = [], {}
    for spec in specs:
        role, equals, name = spec.partition("=")
        if not equals or role not in ROLES:
            raise UsageFault("cli.fault.rod.spec", spec=spec, roles=", ".join(ROLES))
        rod = rod_named(name, catalogue)
        rods[rod.id] = rod
        uses.append(RodUse(role=role, rod=rod.id))
    return tuple(uses), tuple(rods.values())


def window(spec: str) -> Window:
    """'fill.E7018:4.0.amps=120..160', 'weave=..12', 'heat_input=0.8..1.8', 'preheat=80..'."""
    key, equals, bounds = spec.partition("=")
    rest, _, quantity = key.rpartition(".")
    low, dots, high = bounds.partition("..")
    if not equals or not dots or quantity not in QUANTITIES:
        raise UsageFault("cli.fault.window", spec=spec, quantities=", ".join(QUANTITIES))
    role, _, rod = rest.partition(".") if rest.split(".")[0] in (*ROLES, "*") else ("*", "", rest)
    ends = [figure("--window", end, QUANTITIES[quantity]) if end.strip() else None for end in (low, high)]
    if ends == [None, None]:
        raise UsageFault("cli.fault.window.empty", spec=spec)
    made = Window(quantity=quantity, role=role, rod=rod.replace(":", "-") or "*", low=ends[0], high=ends[1])
    if faults := window_faults(made):
        raise _noted(Refused(*faults), f"--window {spec}")
    return made


def steel(spec: str) -> Steel:
    """A preset by its name, or a composition like 'C=0.17,Mn=1.4'."""
    preset = next((s for s in PRESETS if s.name == spec), None)
    if preset is not None:
        return preset
    known = {name.lower(): name for name in elements()}
    found: dict[str, float] = {}
    for part in spec.split(","):
        name, equals, value = part.partition("=")
        if not equals or name.strip().lower() not in known:
            raise UsageFault("cli.fault.steel", spec=spec, names=", ".join(s.name for s in PRESETS))
        found[known[name.strip().lower()]] = figure("--steel", value, "percent")
    return replace(Steel(), **found)  # type: ignore[arg-type]


def hydrogen_ml(spec: str) -> float:
    """A class of hydrogen, 'H5', or ml/100 g."""
    found = hydrogen_class_ml(spec.strip().upper())
    return figure("--hydrogen", spec, "hydrogen") if found is None else found


def own_run_out(spec: str, position: str, catalogue: Sequence[Rod]) -> OwnRunOut:
    """'E7018:3.2=140': what one rod really gave in this joint's position."""
    name, equals, value = spec.partition("=")
    if not equals:
        raise UsageFault("cli.fault.run_out", spec=spec)
    return OwnRunOut(rod=rod_named(name, catalogue).id, position=position, run_out_mm=figure("--run-out", value, "long_length"))


def checked(joint: Joint) -> Joint:
    """The joint if nothing in it contradicts; Refused with what would fit otherwise."""
    if faults := joint_faults(joint):
        raise Refused(*faults)
    return joint


def _noted(refused: Refused, option: str) -> Refused:
    refused.add_note(option)
    return refused
