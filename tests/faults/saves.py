"""Processes killed while they save, others reading and writing meanwhile: no file is ever damaged, none is half written, nothing is left behind.

python -m tests.faults.saves [COUNT]
"""

from __future__ import annotations

import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from banister.core.joint.joint import edited
from banister.job.files import SUFFIX, JobFile, read
from banister.job.library import demo_job
from banister.job.reading import FileFault
from banister.job.recovery import Recovery, left_work


def save_on(folder: Path) -> None:
    """One round's program: saves the job and its recovery copy over and over, each with another gap; tells when it began."""
    path, recovery, gap = folder / f"job{SUFFIX}", Recovery(folder / "recovery", folder / f"job{SUFFIX}"), 0
    file = JobFile(path)
    while not file.lock():
        time.sleep(0.001)
    print("begun", flush=True)
    while True:
        gap = gap % 80 + 1
        job = demo_job()
        job = job.with_joint(edited(job.joints[0], root_gap_mm=gap / 10))
        recovery.keep(job)
        file.save(job)


def main(count: int = 1000) -> int:
    """Kill, read, count."""
    draw, damaged, held = random.Random(1), 0, 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        JobFile(folder / f"job{SUFFIX}").save(demo_job())
        for _ in range(count):
            with subprocess.Popen([sys.executable, "-m", "tests.faults.saves", "--save", name], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as process:
                assert process.stdout is not None
                process.stdout.readline()
                until = time.monotonic() + draw.uniform(0.0, 0.06)
                while time.monotonic() < until:
                    damaged += not _whole(folder / f"job{SUFFIX}")
                held += JobFile(folder / f"job{SUFFIX}").lock()
                process.send_signal(signal.SIGKILL)
            damaged += not _whole(folder / f"job{SUFFIX}")
            for left in left_work(folder / "recovery"):
                damaged += left.read()[1] != ()
                left.discard()
        file = JobFile(folder / f"job{SUFFIX}")
        file.open()
        file.save(demo_job())
        file.close()
        left_work(folder / "recovery")
        litter = [p.name for p in folder.rglob("*") if p.name.endswith(".part") or p.parent.name == "recovery"]
    print(f"{count} kills: {damaged} damaged or half written, {held} locks held twice, {len(litter)} temporary files left", *litter[:5])
    return int(bool(damaged or held or litter))


def _whole(path: Path) -> bool:
    """True where the file reads as one of the jobs that are saved."""
    try:
        return 0.05 <= read(path).job.joints[0].prep.root_gap_mm <= 8.05
    except FileFault:
        return False


if __name__ == "__main__":
    if sys.argv[1:2] == ["--save"]:
        save_on(Path(sys.argv[2]))
    sys.exit(main(*map(int, sys.argv[1:])))
