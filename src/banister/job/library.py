"""What ships and what the user adds: rods, techniques, rules of ranges, documents, words, patterns and the demo job.

The user's files are read once. A broken one is told with its place; what ships serves meanwhile, and nothing is
overwritten.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from banister.core.follow.hands import Hand, kept_with
from banister.core.job import Job
from banister.core.joint.joint import Joint, edited
from banister.core.limits.procedure import Procedure, Welder, is_day
from banister.core.limits.qualification import QualificationRows
from banister.core.plan.technique import Technique, technique_faults
from banister.core.remark import Figure, Remark, at, fault
from banister.core.rods.faults import rod_faults
from banister.core.rods.rod import Rod
from banister.core.rods.usual import usual_rods
from banister.core.value import Struct, field, replace
from banister.core.words import Entry, Words
from banister.job.codec import decoded
from banister.job.documents import read_document, read_rows, read_shelf
from banister.job.files import write_atomically
from banister.job.reading import FileFault, converted

ROD_FORMAT, TECHNIQUE_FORMAT, HAND_FORMAT = "banister-rods", "banister-techniques", "banister-hands"
OWN_FIGURE = "own"
"""Origin of a rod whose figures the user changed."""
Value = TypeVar("Value")


class Library(Struct, frozen=True):
    """What a session works with: the shipped values with the user's own beside or in place of them, and what could not be read."""

    folder: Path
    rods: tuple[Rod, ...] = ()
    techniques: tuple[Technique, ...] = ()
    rows: QualificationRows = field(default_factory=QualificationRows)
    procedures: tuple[Procedure, ...] = ()
    welders: tuple[Welder, ...] = ()
    hands: tuple[Hand, ...] = ()
    """Own figures of welders, kept from job to job."""
    faults: tuple[FileFault, ...] = ()

    @property
    def rods_by_id(self) -> dict[str, Rod]:
        """The catalogue by id."""
        return {rod.id: rod for rod in self.rods}

    def keeping_rod(self, rod: Rod) -> Library:
        """The library with a rod of the user's own, written to their catalogue; FileFault or OSError where that fails."""
        path = self.folder / "rods.json"
        own = {r.id: r for r in (rods_in(path) if path.exists() else ())} | {rod.id: rod}
        save_own_rods(tuple(own.values()), path)
        return replace(self, rods=tuple((self.rods_by_id | {rod.id: rod}).values()))

    def keeping_technique(self, technique: Technique) -> Library:
        """The library with a technique of the user's own, written to their file; FileFault or OSError where that fails."""
        path = self.folder / "techniques.json"
        own = {t.id: t for t in (techniques_in(path) if path.exists() else ())} | {technique.id: technique}
        _write(path, _TechniqueFile(TECHNIQUE_FORMAT, 1, list(own.values())))
        return replace(self, techniques=tuple(({t.id: t for t in self.techniques} | {technique.id: technique}).values()))

    def keeping_hands(self, hands: tuple[Hand, ...]) -> Library:
        """The library with newer figures of welders' hands, written to the user's file; FileFault or OSError where that fails."""
        path = self.folder / "hands.json"
        own = kept_with(hands_in(path) if path.exists() else (), hands)
        _write(path, _HandFile(HAND_FORMAT, 1, list(own)))
        return replace(self, hands=own)


def own_folder() -> Path:
    """Where the user's own files are (XDG data folder)."""
    import platformdirs

    return Path(platformdirs.user_data_dir("banister"))


def load(folder: Path | None = None) -> Library:
    """Read everything once; whatever cannot be read is among the faults."""
    folder = own_folder() if folder is None else folder
    faults: list[FileFault] = []

    def own(name: str, reader: Callable[[Path], Value]) -> Value | None:
        path = folder / name
        try:
            return reader(path) if path.exists() else None
        except FileFault as found:
            faults.append(found)
        except OSError as error:
            faults.append(FileFault(fault("file.unreadable", "", detail=Figure(error.strerror or str(error), "name")), file=str(path)))
        return None

    rods = {rod.id: rod for rod in shipped_rods()} | {rod.id: rod for rod in own("rods.json", rods_in) or ()}
    ways = {t.id: t for t in shipped_techniques()} | {t.id: t for t in own("techniques.json", techniques_in) or ()}
    rows = own("qualification.json", read_rows) or shipped_rows()
    procedures, welders, unread = read_shelf(folder / "procedures")
    hands = own("hands.json", hands_in) or ()
    return Library(folder, tuple(rods.values()), tuple(ways.values()), rows, procedures, welders, hands, (*faults, *unread))


# --- rods and techniques ------------------------------------------------------------------------
class _RodFile(msgspec.Struct):
    format: str
    version: int
    rods: list[Rod]


class _TechniqueFile(msgspec.Struct):
    format: str
    version: int
    techniques: list[Technique]


class _HandFile(msgspec.Struct):
    format: str
    version: int
    hands: list[Hand]


def data_file(name: str) -> Path:
    """Path of a file that ships with the program."""
    return Path(__file__).parent.parent / "data" / name


@lru_cache(maxsize=1)
def shipped_rods() -> tuple[Rod, ...]:
    """The rods that ship."""
    return rods_in(data_file("rods.json"))


@lru_cache(maxsize=1)
def shipped_techniques() -> tuple[Technique, ...]:
    """The techniques that ship."""
    return techniques_in(data_file("techniques.json"), shipped=True)


@lru_cache(maxsize=1)
def shipped_rows() -> QualificationRows:
    """The rules of qualified ranges that ship."""
    return read_rows(data_file("qualification.json"))


def rods_in(path: Path) -> tuple[Rod, ...]:
    """Rods of a catalogue file; FileFault with the place of every fault."""
    document = _decoded(path, _RodFile, ROD_FORMAT)
    _refuse(path, [at(f, f"$.rods[{i}]") for i, rod in enumerate(document.rods) for f in rod_faults(rod)])
    return tuple(document.rods)


def techniques_in(path: Path, shipped: bool = False) -> tuple[Technique, ...]:
    """Techniques of a file; FileFault with the place of every fault."""
    document = _decoded(path, _TechniqueFile, TECHNIQUE_FORMAT)
    _refuse(path, [at(f, f"$.techniques[{i}]") for i, t in enumerate(document.techniques) for f in technique_faults(t, shipped)])
    return tuple(document.techniques)


def hands_in(path: Path) -> tuple[Hand, ...]:
    """Own figures of welders; FileFault with the place of every fault."""
    document = _decoded(path, _HandFile, HAND_FORMAT)
    _refuse(path, [fault("hands.day", f"$.hands[{i}].on", value=Figure(hand.on[:20], "name")) for i, hand in enumerate(document.hands) if not is_day(hand.on)])
    return tuple(document.hands)


def save_own_rods(rods: tuple[Rod, ...], path: Path) -> None:
    """Write the user's own rods."""
    _write(path, _RodFile(ROD_FORMAT, 1, list(rods)))


def _decoded(path: Path, kind: type[Value], wanted: str) -> Value:
    raw = read_document(path)
    if raw.get("format") != wanted:
        raise FileFault(fault("file.format", "$.format", format=Figure(wanted, "name")), file=str(path))
    try:
        return converted(raw, kind, "$")
    except FileFault as found:
        raise found.of(path) from found


def _refuse(path: Path, faults: list[Remark]) -> None:
    if faults:
        raise FileFault(*faults, file=str(path))


def _write(path: Path, document: Any) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    write_atomically(path, msgspec.json.format(msgspec.json.encode(document), indent=1) + b"\n")


# --- words ------------------------------------------------------------------------------------
@lru_cache(maxsize=2)
def words(language: str = "en") -> Words:
    """The table of words of a language that ships: its entries, and the pages of help, `help.STEP`."""
    document = read_document(data_file(f"words/{language}.json"))
    return Words(flat(document["words"]) | pages(data_file(f"words/{language}.md").read_text(encoding="utf-8")))


def pages(markdown: str) -> dict[str, Entry]:
    """Pages of help by their keys: a page begins at a line '# KEY'."""
    parts = [part.partition("\n") for part in f"\n{markdown}".split("\n# ")[1:]]
    return {f"help.{key.strip()}": page.strip() for key, _, page in parts}


def flat(groups: dict[str, Any], prefix: str = "") -> dict[str, Entry]:
    """Nested groups of words as one table; an entry with the forms `one` and `other` stays whole."""
    found: dict[str, Entry] = {}
    for key, entry in groups.items():
        name = f"{prefix}{key}"
        if isinstance(entry, dict) and set(entry) != {"one", "other"}:
            found |= flat(entry, f"{name}.")
        else:
            found[name] = entry
    return found


# --- jobs to start from -------------------------------------------------------------------------
@lru_cache(maxsize=1)
def demo_job() -> Job:
    """The made-up job that shows the program: a small canal lift bridge and its pump house."""
    return decoded(data_file("demo.banister").read_bytes()).job


@lru_cache(maxsize=1)
def patterns() -> Job:
    """Worked patterns to start from, each a joint with rods and nothing set that was not chosen; named by the words `pattern.ID`."""
    return decoded(data_file("patterns.banister").read_bytes()).job


def blank_joint(joint_id: str, name: str = "") -> Joint:
    """A plain joint to start from: 12 mm single V on an open root, flat, usual rods, nothing judged."""
    joint = edited(Joint(id=joint_id, name=name), thickness_mm=12.0)
    return edited(joint, rods=usual_rods(shipped_rods(), joint))


def used_rods(joint: Joint, rods: tuple[Rod, ...]) -> tuple[Rod, ...]:
    """The catalogue's rods that a joint names."""
    wanted = {use.rod for use in joint.working.rods}
    return tuple(rod for rod in rods if rod.id in wanted)
