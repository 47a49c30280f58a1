"""The one command: batch words go to the command line, everything else opens the window."""

from __future__ import annotations

import gc
import os
import sys


def main(arguments: list[str] | None = None) -> int:
    """Run `banister`; returns the exit code."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the matrices are small: more threads only spin
    gc.disable()  # what is imported stays: looking through it for garbage takes a tenth of a batch command's time
    from banister.cli.main import COMMANDS, run

    arguments = sys.argv[1:] if arguments is None else arguments
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("-h", "--help", "--version")):
        return run(arguments)
    unknown = [a for a in arguments if a.startswith("-") and a != "--demo"]
    if unknown or len([a for a in arguments if not a.startswith("-")]) > 1:
        return run(arguments)
    from banister.desktop.main import main as window

    return int(window(arguments))


if __name__ == "__main__":
    sys.exit(main())
