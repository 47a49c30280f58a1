"""A record in words."""

from __future__ import annotations

from banister.core.record.gathering import Gathered
from banister.core.record.record import Signature, empty_fields
from banister.core.words import Speech

GROUP, MOST_FIELDS = 4, 3


def record_said(found: Gathered, say: Speech) -> list[str]:
    """How far the joint is, what is empty, who signed, and the digest."""
    return [*state_said(found, say), *signed_said(found, say), say("record.digest", digest=grouped(found.digest)), say("record.caution")]


def grouped(text: str) -> str:
    """A digest in groups of four, so that it can be read out and breaks over lines."""
    return " ".join(text[i : i + GROUP] for i in range(0, len(text), GROUP))


def state_said(found: Gathered, say: Speech) -> list[str]:
    """How far the joint is, what is empty, and the repairs decided on."""
    record = found.record
    lines = [say("record.said", welded=str(found.passes_ended), of=str(len(record["passes"])), n=record["open_deviations"])]
    if record["simulated"]:
        lines.append(say("record.simulated"))
    if missing := empty_fields(record):
        lines.append(say("record.missing", what=", ".join(say(f"record.empty.{key}") for key in missing)))
    return [*lines, *found.etched_said(say), *found.repairs_said(say)]


def signed_said(found: Gathered, say: Speech) -> list[str]:
    """Who signed, and whether for this state."""
    return [say("record.signed_by", name=one.name, role=one.role, on=one.on[:16].replace("T", " "), state=_state_said(one, found, say))
            for one in found.signed]  # fmt: skip


def _state_said(one: Signature, found: Gathered, say: Speech) -> str:
    """For this state; or for another one, with the fields that changed since where they are known."""
    if one.digest == found.digest:
        return say("record.signed")
    since = found.since.get(one.n, ())
    if not since:
        return say("record.signed.other")
    named = ", ".join(path.removeprefix("$.") for path in since[:MOST_FIELDS])
    return say("record.signed.since", n=len(since), fields=named if len(since) <= MOST_FIELDS else f"{named}, ...")
