"""A rod of one's own: like another, or from nothing; its figures are then set where those of every rod are."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from banister.core.remark import Refused
from banister.core.rods.faults import ROD_LIMITS, rod_fault
from banister.core.rods.own import MELTING_G_AH, rod_from_nothing, rod_like
from banister.core.rods.rod import Rod
from banister.core.words import Speech, capital
from banister.desktop.fields import ChoiceField, FigureField, NameField

NOTHING = ""


class OwnRod(QWidget):
    """Name, size, and what it is like; `made` brings the rod."""

    made = Signal(object)

    def __init__(self, say: Speech) -> None:
        super().__init__()
        self.say, self.known = say, dict[str, Rod]()
        self.like = ChoiceField(say("own_rod.like"), {NOTHING: say("own_rod.nothing")})
        self.family = ChoiceField(say("own_rod.family"), {family: say(f"family.{family}") for family in MELTING_G_AH})
        self.name = NameField(say("own_rod.name"))
        self.diameter, self.length = (self._size_field(key) for key in ("diameter_mm", "length_mm"))
        self.button = QPushButton(say("own_rod.make"))
        self.button.clicked.connect(lambda _checked=False: self.make())
        self.like.chosen.connect(lambda _: self._show_like())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for widget in (self.like, self.family, self.name, self.diameter, self.length, self.button):
            column.addWidget(widget)

    def _size_field(self, key: str) -> FigureField:
        kind, low, high = ROD_LIMITS[key]
        return FigureField(capital(self.say(f"rod.{key}")), kind, lambda _: None, low=low, high=high)

    def show_rods(self, rods: dict[str, Rod], say: Speech) -> None:
        """Offer rods to be like."""
        self.say, self.known = say, rods
        self.like.set_choices({NOTHING: say("own_rod.nothing")} | {rod.id: say.units.rod(rod.id) for rod in rods.values()})
        for field in (self.diameter, self.length):
            field.show_unit(say)

    def _show_like(self) -> None:
        rod = self.known.get(self.like.key)
        self.family.setVisible(rod is None)
        if rod is not None:
            self.name.show_text(rod.type)
            self.diameter.show_value(rod.diameter_mm, self.say)
            self.length.show_value(rod.length_mm, self.say)

    def make(self) -> None:
        """The rod as described; what is missing or impossible is said at its field."""
        try:
            diameter, length = self._size(self.diameter, "diameter_mm"), self._size(self.length, "length_mm")
        except Refused:
            return
        name = self.name.edit.text().strip()
        self.length.tell("" if name else self.say("own_rod.unnamed"))
        if name:
            rod = self.known.get(self.like.key)
            self.made.emit(rod_from_nothing(name, self.family.key, diameter, length) if rod is None else rod_like(rod, name, diameter, length))

    def _size(self, field: FigureField, key: str) -> float:
        try:
            value = field.value()
            if (found := rod_fault(key, value)) is not None:
                raise Refused(found)
        except Refused as refused:
            field.tell(self.say.sentence(refused.remarks[0]))
            raise
        field.tell("")
        return value
