"""How sure a plan is, in words."""

from __future__ import annotations

from banister.core.sure.variants import Sure
from banister.core.words import Speech


def sure_said(found: Sure, say: Speech) -> list[str]:
    """How it was found: variants, those planned anew, those without a plan; what it is not."""
    lines = [say("sure.how", draws=str(found.draws), broken=str(found.broken), anew=str(found.anew))]
    if found.unplanned:
        lines.append(say("sure.unplanned", n=found.unplanned))
    return [*lines, say("sure.governs")]
