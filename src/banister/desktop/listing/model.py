"""The weld list as a table: what a cell shows, what it is sorted by, and which can be typed over."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, QSortFilterProxyModel, Qt, Signal

from banister.core.job import Job
from banister.core.joint.defaults import with_preparation
from banister.core.joint.faults import MOST_ALIKE
from banister.core.joint.joint import Joint, edited
from banister.core.joint.kinds import KINDS
from banister.core.joint.planning_week import typed_week
from banister.core.listing.said import state_said
from banister.core.listing.welds import Weld
from banister.core.remark import Figure, Refused, fault, unknown_word
from banister.core.typed import typed
from banister.core.units import minutes
from banister.core.value import Struct, replace
from banister.core.words import Speech

Index = QModelIndex | QPersistentModelIndex
SORTED = Qt.ItemDataRole.UserRole


Typed = Callable[[Job, Joint, str, Speech], Joint]
"""The joint as it is once a cell was typed over; Refused where it cannot be so."""


class Column(Struct, frozen=True):
    """A column: its word, what it shows, what it is sorted by, and how it is typed over (None where it cannot be)."""

    key: str
    shown: Callable[[Weld, Speech], str]
    by: Callable[[Weld], Any]
    typed: Typed | None = None


def _written(field: str) -> Typed:
    return lambda _, joint, text, say: edited(joint, **{field: text.strip()})


def _measured(field: str, kind: str) -> Typed:
    return lambda _, joint, text, say: edited(joint, **{field: typed(text, kind, say.units)})


def preparation_names(say: Speech) -> dict[str, str]:
    """Every preparation by its short name, as a cell shows it."""
    return {say(f"preparation_short.{key}"): key for key in KINDS}


def _preparation(_: Job, joint: Joint, text: str, say: Speech) -> Joint:
    """By the short name or the key; a preparation of its own figures, thickness and rods stay."""
    plain = text.strip().lower()
    key = next((key for name, key in preparation_names(say).items() if plain in (name.lower(), key)), None)
    if key is None:
        raise Refused(unknown_word("preparation", text.strip(), tuple(preparation_names(say))))
    return joint if key == joint.prep.key else with_preparation(joint, key)


def _alike(_: Job, joint: Joint, text: str, say: Speech) -> Joint:
    plain = text.strip()
    if not plain.isdecimal() or not 1 <= int(plain) <= MOST_ALIKE:
        raise Refused(fault("welds.alike", "alike", most=Figure(MOST_ALIKE, "count")))
    return replace(joint, alike=int(plain))


def _length(job: Job, joint: Joint, text: str, say: Speech) -> Joint:
    return _measured("length_mm", "long_length")(job, joint, text, say) if joint.piece.form == "plate" else joint


def _position(_: Job, joint: Joint, text: str, say: Speech) -> Joint:
    return edited(joint, position=text.strip().upper())


COLUMNS = (
    Column("id", lambda w, _: w.joint.id, lambda w: w.joint.id),
    Column("name", lambda w, _: w.joint.name, lambda w: w.joint.name.lower(), _written("name")),
    Column("drawing", lambda w, _: w.joint.drawing, lambda w: w.joint.drawing, _written("drawing")),
    Column("preparation", lambda w, say: say(f"preparation_short.{w.joint.prep.key}"), lambda w: w.joint.prep.key, _preparation),
    Column("thickness", lambda w, say: say.units.text("length", w.joint.prep.thickness_mm), lambda w: w.joint.prep.thickness_mm,
           _measured("thickness_mm", "length")),
    Column("position", lambda w, _: w.joint.piece.position, lambda w: w.joint.piece.position, _position),
    Column("length", lambda w, say: say.units.text("long_length", w.joint.weld_length_mm()), lambda w: w.joint.weld_length_mm(), _length),
    Column("alike", lambda w, _: str(w.joint.alike), lambda w: w.joint.alike, _alike),
    Column("procedure", lambda w, _: w.joint.procedure, lambda w: w.joint.procedure, lambda job, joint, text, _: job.welded_under(joint, text.strip())),
    Column("welder", lambda w, _: w.joint.welder, lambda w: w.joint.welder, _written("welder")),
    Column("week", lambda w, _: w.joint.week, lambda w: w.joint.week, lambda _, joint, text, say: replace(joint, week=typed_week(text))),
    Column("state", state_said, lambda w: (w.state, w.passes_welded)),
    Column("beads", lambda w, _: str(w.beads), lambda w: w.beads),
    Column("rods", lambda w, _: str(sum(w.rods.values())), lambda w: sum(w.rods.values())),
    Column("metal", lambda w, say: say.units.text("mass", w.metal_kg), lambda w: w.metal_kg),
    Column("time", lambda w, _: minutes(w.seconds), lambda w: w.seconds),
    Column("remarks", lambda w, _: str(len(w.remarks) or ""), lambda w: len(w.remarks)),
)  # fmt: skip
WORDS = ("id", "name", "drawing", "preparation", "position", "procedure", "welder", "week", "state")


class WeldModel(QAbstractTableModel):
    """The welds; `typed` brings a joint that was typed over and the word of its column, `refused` why it could not be."""

    typed = Signal(object, str)
    refused = Signal(str)

    def __init__(self, say: Speech) -> None:
        super().__init__()
        self.say = say
        self.job: Job | None = None
        self.welds: tuple[Weld, ...] = ()

    def show_welds(self, job: Job, welds: Sequence[Weld], say: Speech) -> bool:
        """Other welds of a job, or other units; True where the rows are others. A cell that is typed in stays open where they are not."""
        found = with_joints_of(job, welds)
        if say == self.say and [weld.joint.id for weld in found] == [weld.joint.id for weld in self.welds]:
            self._take(job, found)
            return False
        self.beginResetModel()
        self.job, self.welds, self.say = job, found, say
        self.endResetModel()
        return True

    def take_job(self, job: Job) -> None:
        """The job as it is now: what is shown and typed of a joint is of that, while it is still planned anew."""
        self._take(job, with_joints_of(job, self.welds))

    def _take(self, job: Job, welds: tuple[Weld, ...]) -> None:
        """The same rows as they are now; told of those that are others, for every one told is drawn, sorted and filtered anew."""
        before, self.job, self.welds = self.welds, job, welds
        if others := [row for row, (then, now) in enumerate(zip(before, welds, strict=True)) if then is not now and then != now]:
            self.dataChanged.emit(self.index(others[0], 0), self.index(others[-1], len(COLUMNS) - 1))

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: N802, B008
        """A row a weld."""
        return 0 if parent.isValid() else len(self.welds)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: N802, B008
        """A column a figure."""
        return len(COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:  # noqa: N802
        """What a column is called."""
        is_shown = orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole
        return self.say(f"weld_list.{COLUMNS[section].key}") if is_shown else None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """What a cell shows, what it is sorted by, and the remarks as its tip."""
        weld, column = self.welds[index.row()], COLUMNS[index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return column.shown(weld, self.say)
        if role == SORTED:
            return column.by(weld) if not isinstance(column.by(weld), tuple) else str(column.by(weld))
        if role == Qt.ItemDataRole.TextAlignmentRole and column.key not in WORDS:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.ToolTipRole and column.key in ("remarks", "state") and weld.remarks:
            return "\n".join(dict.fromkeys(self.say.sentence(r) for r in weld.remarks))
        return None

    def flags(self, index: Index) -> Qt.ItemFlag:
        """What can be typed over."""
        found = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return found | Qt.ItemFlag.ItemIsEditable if COLUMNS[index.column()].typed is not None else found

    def setData(self, index: Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:  # noqa: N802
        """A cell was typed over: the joint as it is then, or why it cannot be."""
        column, joint = COLUMNS[index.column()], self.welds[index.row()].joint
        if column.typed is None or self.job is None:
            return False
        if str(value).strip() == column.shown(self.welds[index.row()], self.say):
            return True  # left as it stands it is no other figure, however it is written
        try:
            now = column.typed(self.job, joint, str(value), self.say)
        except Refused as refused:
            self.refused.emit(self.say.sentence(refused.remarks[0]))
            return False
        if now != joint:
            self.typed.emit(now, column.key)
        return True


def with_joints_of(job: Job, welds: Sequence[Weld]) -> tuple[Weld, ...]:
    """Welds with their joints as they are in a job now; one that is not there any more stays as it was."""
    joints = {joint.id: joint for joint in job.joints}
    return tuple(weld if weld.joint is joints.get(weld.joint.id, weld.joint) else replace(weld, joint=joints[weld.joint.id]) for weld in welds)


class WeldOrder(QSortFilterProxyModel):
    """Sorted by what a column is sorted by; shown is what holds every word of the filter."""

    def __init__(self, model: WeldModel) -> None:
        super().__init__()
        self.model = model
        self.words: tuple[str, ...] = ()
        self.setSourceModel(model)
        self.setSortRole(SORTED)

    def filter_by(self, text: str) -> None:
        """Show the welds in which every word of a text stands somewhere."""
        self.words = tuple(text.lower().split())
        self.invalidate()

    def filterAcceptsRow(self, row: int, parent: Index) -> bool:  # noqa: N802
        """True where every word stands in some cell, or in one of its rods."""
        if not self.words:
            return True
        weld = self.model.welds[row]
        cells = " ".join([*(column.shown(weld, self.model.say) for column in COLUMNS), *weld.rods]).lower()
        return all(word in cells for word in self.words)

    @property
    def shown(self) -> tuple[Weld, ...]:
        """The welds that are shown, in their order."""
        return tuple(self.model.welds[self.mapToSource(self.index(i, 0)).row()] for i in range(self.rowCount()))
