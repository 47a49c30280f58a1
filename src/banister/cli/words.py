"""Words of the command line: lengths, rods, windows and positions, each with a located fault."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from banister.cli.errors import UsageFault
from banister.core.joint.joint import ROLES, Joint, OwnRunOut, RodUse, joint_faults
from banister.core.joint.positions import positions, resolve
from banister.core.limits.windows import QUANTITIES, Window
from banister.core.rods.rod import Rod
from banister.core.units import parsed_length_mm, parsed_number


def length(option: str, text: str) -> float:
    """A length in mm, or a usage fault that names the option."""
    try:
        return parsed_length_mm(text)
    except ValueError as error:
        raise UsageFault(f"{option}: {error}") from None


def number(option: str, text: str) -> float:
    """A plain number, or a usage fault that names the option."""
    try:
        return parsed_number(text)
    except ValueError as error:
        raise UsageFault(f"{option}: {error}") from None


def angles(option: str, text: str) -> tuple[float, float]:
    """'30', or '30,35' for unlike sides (left, right)."""
    parts = text.split(",")
    if len(parts) > 2:
        raise UsageFault(f"{option}: write one angle, or two with a comma: 30,35")
    values = [number(option, part) for part in parts]
    return values[0], values[-1]


def position_and_progression(code: str, form: str, progression: str | None) -> tuple[str, str]:
    """AWS position and progression from either code; a code that says up or down must agree."""
    try:
        position, said = resolve(code, form)
    except KeyError:
        known = ", ".join(f"{p.code} ({'/'.join(dict.fromkeys((p.iso_up, p.iso_down)))})" for p in positions(form))
        raise UsageFault(f"--position: '{code}' is not one for a {form}; use {known}") from None
    if said and progression and said != progression:
        raise UsageFault(f"--position {code} is {said}hill, --progression says {progression}")
    return position, said or progression or "up"


def rod_named(spec: str, catalogue: Sequence[Rod]) -> Rod:
    """The rod for 'E7018:4.0', 'E6010:3.2x350' or 'E7018:5/32'; another length makes a variant."""
    kind, _, size = spec.partition(":")
    size, _, long = size.partition("x")
    of_kind = [rod for rod in catalogue if rod.type == kind]
    if not of_kind:
        raise UsageFault(f"--rod: no '{kind}' in the catalogue; it has {', '.join(sorted({r.type for r in catalogue}))}")
    found = [rod for rod in of_kind if size in (rod.size_label, f"{rod.diameter_mm:.1f}", f"{rod.diameter_mm:g}")]
    exact = [rod for rod in found if rod.size_label == size]
    metric = [rod for rod in found if not rod.size_label]
    found = exact or metric or found
    if not found:
        sizes = ", ".join(r.size_label or f"{r.diameter_mm:.1f}" for r in of_kind)
        raise UsageFault(f"--rod: no {kind} of size '{size}'; there is {sizes}")
    if not long:
        return found[0]
    wanted = length("--rod", long)
    if not 100 <= wanted <= 1000:
        raise UsageFault(f"--rod: a length of {wanted:g} mm is outside 100 to 1000")
    return next((r for r in found if abs(r.length_mm - wanted) < 0.5), replace(found[0], length_mm=wanted))


def rod_uses(specs: Sequence[str], catalogue: Sequence[Rod]) -> tuple[tuple[RodUse, ...], tuple[Rod, ...]]:
    """'role=rod' words as uses and the rods they name."""
    uses, rods = [], {}
    for spec in specs:
        role, equals, name = spec.partition("=")
        if not equals or role not in ROLES:
            raise UsageFault(f"--rod: '{spec}' should read like fill=E7018:4.0 with one of {', '.join(ROLES)}")
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
        raise UsageFault(f"--window: '{spec}' should read like fill.E7018:4.0.amps=120..160; "
                         f"quantities: {', '.join(QUANTITIES)}")  # fmt: skip
    role, _, rod = rest.partition(".") if rest.split(".")[0] in (*ROLES, "*") else ("*", "", rest)
    ends = [_bound(quantity, end) if end.strip() else None for end in (low, high)]
    if ends[0] is not None and ends[1] is not None and ends[0] > ends[1]:
        raise UsageFault(f"--window: '{spec}': the lower bound is above the upper one")
    if ends == [None, None]:
        raise UsageFault(f"--window: '{spec}' sets neither bound")
    return Window(quantity=quantity, role=role, rod=rod.replace(":", "-") or "*", low=ends[0], high=ends[1])


def _bound(quantity: str, text: str) -> float:
    return length("--window", text) if quantity in ("run_out", "weave") else number("--window", text)


def own_run_out(spec: str, position: str, catalogue: Sequence[Rod]) -> OwnRunOut:
    """'E7018:3.2=140': what one rod really gave in this joint's position."""
    name, equals, value = spec.partition("=")
    if not equals:
        raise UsageFault(f"--run-out: '{spec}' should read like E7018:3.2=140")
    return OwnRunOut(rod=rod_named(name, catalogue).id, position=position, run_out_mm=length("--run-out", value))


def checked(joint: Joint) -> Joint:
    """The joint if nothing in it contradicts, else a usage fault with what would fit."""
    if faults := joint_faults(joint):
        raise UsageFault("; ".join(f"{f.text}. {f.remedy}" for f in faults))
    return joint
