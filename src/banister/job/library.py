"""What ships and what the user adds: the rod catalogue, worked patterns and the demo job."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

import msgspec

from banister.core.job import Job, rod_faults
from banister.core.joint.joint import Joint, RodUse
from banister.core.plan.technique import Technique, technique_faults
from banister.core.rods.rod import Rod
from banister.job.codec import FileFault, decoded
from banister.job.files import write_atomically

ROD_FORMAT, TECHNIQUE_FORMAT = "banister-rods", "banister-techniques"


class _RodFile(msgspec.Struct):
    format: str
    version: int
    rods: list[Rod]


def data_file(name: str) -> Path:
    """Path of a file that ships with the program."""
    return Path(str(resources.files("banister") / "data" / name))


def own_catalogue_path() -> Path:
    """The user's own rod file (XDG data folder); an open file of the same shape as the shipped one."""
    import platformdirs

    return Path(platformdirs.user_data_dir("banister")) / "rods.json"


def rods_in(path: Path) -> tuple[Rod, ...]:
    """Rods of a catalogue file; FileFault with the place of every fault."""
    try:
        document = msgspec.json.decode(path.read_bytes(), type=_RodFile)
    except OSError as error:
        raise FileFault(f"{path}: {error.strerror}") from error
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise FileFault(f"{path}: {error}") from error
    faults = [f for i, rod in enumerate(document.rods) for f in rod_faults(rod, f"rods[{i}]")]
    if document.format != ROD_FORMAT:
        raise FileFault(f"{path}: not a rod catalogue")
    if faults:
        raise FileFault(*(f"{path}: {f.code}: {f.text}" for f in faults))
    return tuple(document.rods)


def catalogue(own: Path | None = None) -> tuple[Rod, ...]:
    """The shipped rods with the user's own beside or in place of them."""
    found = {rod.id: rod for rod in rods_in(data_file("rods.json"))}
    path = own_catalogue_path() if own is None else own
    if path.exists():
        found |= {rod.id: rod for rod in rods_in(path)}
    return tuple(found.values())


def save_own_catalogue(rods: tuple[Rod, ...], path: Path | None = None) -> Path:
    """Write the user's own rods."""
    path = own_catalogue_path() if path is None else path
    path.parent.mkdir(parents=True, exist_ok=True)
    document = _RodFile(ROD_FORMAT, 1, list(rods))
    write_atomically(path, msgspec.json.format(msgspec.json.encode(document), indent=1) + b"\n")
    return path


class _TechniqueFile(msgspec.Struct):
    format: str
    version: int
    techniques: list[Technique]


def techniques(own: Path | None = None) -> tuple[Technique, ...]:
    """Schools of practice: the shipped ones with the user's own beside or in place of them."""
    found = {t.id: t for t in _techniques_in(data_file("techniques.json"))}
    path = own_catalogue_path().with_name("techniques.json") if own is None else own
    if path.exists():
        found |= {t.id: t for t in _techniques_in(path)}
    return tuple(found.values())


def _techniques_in(path: Path) -> tuple[Technique, ...]:
    try:
        document = msgspec.json.decode(path.read_bytes(), type=_TechniqueFile)
    except OSError as error:
        raise FileFault(f"{path}: {error.strerror}") from error
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise FileFault(f"{path}: {error}") from error
    faults = [f"{path}: techniques[{i}]: {text}" for i, t in enumerate(document.techniques) for text in technique_faults(t)]
    if document.format != TECHNIQUE_FORMAT:
        raise FileFault(f"{path}: not a file of techniques")
    if faults:
        raise FileFault(*faults)
    return tuple(document.techniques)


def save_own_techniques(own: tuple[Technique, ...], path: Path | None = None) -> Path:
    """Write the user's own techniques."""
    path = own_catalogue_path().with_name("techniques.json") if path is None else path
    path.parent.mkdir(parents=True, exist_ok=True)
    document = _TechniqueFile(TECHNIQUE_FORMAT, 1, list(own))
    write_atomically(path, msgspec.json.format(msgspec.json.encode(document), indent=1) + b"\n")
    return path


def demo_job() -> Job:
    """The made-up job that shows the program: a small canal lift bridge and its pump house."""
    return decoded(data_file("demo.banister").read_bytes()).job


def patterns() -> Job:
    """Worked patterns to start from, each a joint with rods and nothing set that was not chosen."""
    return decoded(data_file("patterns.banister").read_bytes()).job


CELLULOSIC_BASIC = (("root", "E6010", 3.2), ("hot", "E6010", 3.2))
BASIC_SIZES = (3.2, 4.0)


def usual_rods(rods: tuple[Rod, ...], backing: str) -> tuple[RodUse, ...]:
    """A common school: cellulosic root and hot pass on an open root, basic above; basic on a bar."""

    def pick(kind: str, size: float) -> str:
        return next(r.id for r in rods if r.type == kind and abs(r.diameter_mm - size) < 0.01)

    uses = [RodUse(role=role, rod=pick(kind, size)) for role, kind, size in CELLULOSIC_BASIC]
    if backing != "open":
        uses = [RodUse(role="root", rod=pick("E7018", size)) for size in BASIC_SIZES]
    for role in ("fill", "cap"):
        uses += [RodUse(role=role, rod=pick("E7018", size)) for size in BASIC_SIZES]
    return tuple(uses)


def blank_joint(joint_id: str) -> Joint:
    """A plain joint to start from: 12 mm single V on an open root, flat, usual rods, nothing judged."""
    return Joint(id=joint_id, name="New joint", thickness_mm=12.0, rods=usual_rods(catalogue(), "open"))


def used_rods(joint: Joint, rods: tuple[Rod, ...]) -> tuple[Rod, ...]:
    """The catalogue's rods that a joint names."""
    wanted = {use.rod for use in joint.rods}
    return tuple(rod for rod in rods if rod.id in wanted)


