"""Everything a record needs, gathered from a job and its journal."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from banister.core.fitup.places import course_of
from banister.core.follow.rest import Followed
from banister.core.inspect.judged import Judgement
from banister.core.inspect.observed import Inspected, inspected
from banister.core.inspect.of_joint import judged_joint, weld_of
from banister.core.inspect.repairs import KeptRepair, kept_said, repairs_kept
from banister.core.inspect.said import lines_said, result_said
from banister.core.inspect.sets import AcceptanceSet
from banister.core.job import Job
from banister.core.joint.joint import Joint
from banister.core.journal import Chain, corrected
from banister.core.plan.plan import Plan
from banister.core.record.record import Signature, differences, record_digest, record_of, signatures
from banister.core.under_way import welded_of
from banister.core.value import Struct
from banister.core.words import Speech


class Gathered(Struct, frozen=True):
    """A joint's record with its digest, who signed it, the plan it rests on, the plan as it stands after what was welded, and its inspection."""

    joint: Joint
    record: dict[str, Any]
    digest: str
    signed: tuple[Signature, ...]
    plan: Plan
    welded: Followed | None
    found: Inspected
    judgement: Judgement | None
    repairs: tuple[KeptRepair, ...]
    since: Mapping[int, tuple[str, ...]]
    """For a signature of another state (by its number) the fields that changed since; none where that state cannot be made again."""

    @property
    def passes_ended(self) -> int:
        """How many passes are welded to their end."""
        return sum(one["welded"] is not None and one["welded"]["ended"] is not None for one in self.record["passes"])

    def inspection_said(self, say: Speech) -> list[str]:
        """The inspection in lines; none where nothing was looked at."""
        if self.judgement is None or not self.found.is_begun:
            return []
        weld, course, seen = weld_of(self.joint, self.plan), course_of(self.joint), {one.id: one for one in self.found.seen}
        return [result_said(self.judgement, course, say), *lines_said(self.judgement, seen, weld, course, say)]

    def etched_said(self, say: Speech) -> list[str]:
        """The etched sections in a line each, and how many photos there are."""
        lines = []
        for one in self.record.get("etched", ()):
            least = [wall["least_mm"] for wall in one["walls"].values()]
            bare = sum(wall["places_not_fused"] for wall in one["walls"].values())
            known = [value for value in least if value is not None]
            said = say("record.etched.bare") if bare else say("record.etched.least", least=say.sized("fine_length", min(known))) if known else ""
            lines.append(say("record.etched", n=str(one["n"]), beads=str(len(one["beads"])), said=said))
        photos = len(self.record.get("photos", ()))
        return [*lines, *([say("record.photos", n=photos)] if photos else [])]

    def repairs_said(self, say: Speech) -> list[str]:
        """The repairs decided on, a line each, the first first."""
        return [kept_said(one, i, course_of(self.joint), say) for i, one in enumerate(self.repairs, 1)]


def gathered(job: Job, joint: Joint, plan: Plan, chain: Chain, sets: Mapping[str, AcceptanceSet], follow: bool = False) -> Gathered:
    """The record of a joint: of its issued plan where there is one, else of the plan given; `follow` where the welded section is wanted too."""
    standing = corrected(chain.records).records
    sheet = job.issued_for(joint)
    own = plan if sheet is None else sheet.plan
    found = inspected(standing, joint.id)
    by = sets.get(joint.working.choices.acceptance)
    judgement = judged_joint(joint, own, found, by) if by is not None else None
    record = record_of(job, joint, own, chain, found, judgement)
    welded = welded_of(sheet, job.rods_by_id, standing) if follow and sheet is not None else None
    own_digest = record_digest(record)
    return Gathered(joint, record, own_digest, signatures(standing, joint.id), own, None if welded is None else welded.now, found, judgement,
                    repairs_kept(standing, joint.id), _since(job, joint, own, chain, record, own_digest, by))  # fmt: skip


def _since(
    job: Job, joint: Joint, plan: Plan, chain: Chain, record: Mapping[str, Any], own: str, by: AcceptanceSet | None,
) -> dict[int, tuple[str, ...]]:  # fmt: skip
    """What changed since each signature of another state, where the journal alone tells: the job itself may have changed too."""
    found = dict[int, tuple[str, ...]]()
    for one in signatures(corrected(chain.records).records, joint.id):
        if one.digest == own or not chain.whole:
            continue
        then = chain.upto(one.n - 1)
        told = inspected(corrected(then.records).records, joint.id)
        before = record_of(job, joint, plan, then, told, judged_joint(joint, plan, told, by) if by is not None else None)
        if record_digest(before) == one.digest:
            found[one.n] = tuple(differences(before, record))
    return found
