"""The part of the lock that the program itself needs, with what that needs in turn: `runtime_lock.py PROJECT`, run where the whole lock is installed."""

from __future__ import annotations

import re
import sys
import tomllib
from collections.abc import Iterable
from importlib.metadata import requires
from pathlib import Path

from packaging.requirements import Requirement
from packaging.utils import canonicalize_name


def needed(wanted: Iterable[str]) -> set[str]:
    """The names of packages, and of all they ask for here."""
    found = set[str]()
    to_see = [Requirement(text) for text in wanted]
    while to_see:
        one = to_see.pop()
        name = canonicalize_name(one.name)
        if name not in found and (one.marker is None or one.marker.evaluate({"extra": ""})):
            found.add(name)
            to_see += [Requirement(text) for text in requires(name) or ()]
    return found


def main(project: Path) -> None:
    """Print the entries of the lock that are needed."""
    names = needed(tomllib.loads((project / "pyproject.toml").read_text(encoding="utf-8"))["project"]["dependencies"])
    for entry in re.split(r"\n(?=\S)", (project / "requirements.lock").read_text(encoding="utf-8")):
        if canonicalize_name(entry.partition("==")[0]) in names:
            print(entry)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
