"""Tacks worked by hand, from the batten and from the panel alike: every change one step to undo, what cannot be is said over the section."""

from __future__ import annotations

from collections.abc import Callable

from banister.core.fitup import tack_edits
from banister.core.fitup.places import course_of
from banister.core.fitup.tacks import usual_tacks
from banister.core.joint.fitting import FitUp
from banister.core.joint.joint import Joint
from banister.core.remark import Figure, Refused
from banister.desktop.store import Store


class TackHand:
    """Puts, moves, orders and takes out tacks of the shown joint."""

    def __init__(self, store: Store) -> None:
        self.store = store

    def lay(self, school: str) -> None:
        """The tacks of a school in the place of all there are."""
        joint = self.store.joint
        if joint is not None:
            self._edit("edit.tack.lay", lambda own: own.with_tacks(usual_tacks(joint, school)))
            self.store.look(tack=0)

    def put(self, s_mm: float) -> None:
        """One more tack about a place."""
        joint = self.store.joint
        if joint is not None and self._edit("edit.tack.put", lambda own: tack_edits.put(joint, own, s_mm)):
            self.store.look(tack=len(joint.fitup.tacks) + 1)

    def move(self, order: int, what: str, by_mm: float) -> None:
        """A tack, or an end of it, along the weld."""
        joint = self.store.joint
        if joint is not None:
            self._edit("edit.tack.move", lambda own: tack_edits.moved(course_of(joint), own, order, what, by_mm), f"tack {order} {what}")

    def remove(self, order: int) -> None:
        """A tack out."""
        if self._edit("edit.tack.drop", lambda own: tack_edits.without(own, order)):
            self.store.look(tack=0)

    def reorder(self, order: int, wanted: int) -> None:
        """A tack welded earlier or later."""
        joint = self.store.joint
        if joint is not None:
            wanted = min(max(wanted, 1), len(joint.fitup.tacks))
            self._edit("edit.tack.order", lambda own: tack_edits.ordered(own, order, wanted))
            self.store.look(tack=wanted)

    def select(self, step: int) -> None:
        """The next tack, or the one before, in their order."""
        joint = self.store.joint
        if joint is not None and joint.fitup.tacks:
            self.store.look(tack=min(max(self.store.view.tack + step, 1), len(joint.fitup.tacks)))

    def _edit(self, name: str, change: Callable[[FitUp], FitUp], merge: str = "") -> bool:
        joint: Joint | None = self.store.joint
        if joint is None:
            return False
        try:
            changed = change(joint.fitup)
        except Refused as refused:
            self.store.refuse(refused.remarks[0])
            return False
        if changed != joint.fitup:
            number = Figure(str(self.store.view.tack or len(changed.tacks)), "name")
            self.store.edit_joint(self.store.say(name, number=number), merge, fitup=changed)
        return True
