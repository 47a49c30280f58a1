"""What the program stands on: imports one way, the pinned Qt, a real start under Xvfb; and the faults put in outside the suite still find their lines."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path

import banister
from tests.faults.run import FAULTS

ROOT = Path(__file__).parents[1]


def python(code: str, **env: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=90, env=os.environ | env)


def test_the_core_brings_no_qt_and_no_scipy() -> None:
    code = ("import pkgutil, importlib, sys, banister.core as c\n"
            "for m in pkgutil.walk_packages(c.__path__, 'banister.core.'): importlib.import_module(m.name)\n"
            "sys.exit(any(n.split('.')[0] in ('PySide6', 'scipy', 'reportlab') for n in sys.modules))")  # fmt: skip
    assert python(code).returncode == 0


def test_the_pinned_qt_survives_sixty_thousand_calls() -> None:
    code = ("from PySide6.QtGui import QGuiApplication, QImage, QPainter; app = QGuiApplication([])\n"
            "image = QImage(64, 64, QImage.Format.Format_RGB32); painter = QPainter(image)\n"
            "for i in range(60000): painter.drawLine(0, 0, i % 64, 63)\n"
            "painter.end(); print('alive')")  # fmt: skip
    assert python(code, QT_QPA_PLATFORM="offscreen").stdout.strip() == "alive"


def test_a_fault_in_the_place_of_one_of_qts_own_functions_is_told_and_ends_nothing() -> None:
    code = ("import pkgutil, importlib, sys, banister.desktop as d, banister.desktop.app\n"
            "from banister.desktop.app.overrides import overrides\n"
            "from PySide6.QtCore import QObject, QTimer; from PySide6.QtWidgets import QApplication, QWidget\n"
            "sys.excepthook = lambda kind, *_: print(kind.__name__)\n"
            "app = QApplication([])\n"
            "class Wrong(QWidget):\n"
            "    def resizeEvent(self, event): [].index(1)\n"
            "    def paintEvent(self, event): 1 / 0\n"
            "wrong = Wrong(); QTimer.singleShot(0, wrong.show); QTimer.singleShot(100, app.quit); app.exec()\n"
            "for m in pkgutil.walk_packages(d.__path__, d.__name__ + '.'): importlib.import_module(m.name)\n"
            "def below(kind): return {kind}.union(*map(below, type.__subclasses__(kind)))\n"
            "ours = {k for k in below(QObject) if k.__module__.startswith('banister.')}\n"
            "found = [f for k in ours for f in overrides(k).values()]\n"
            "print(len(found), all(hasattr(f, '__wrapped__') for f in found))")  # fmt: skip
    done = python(code, QT_QPA_PLATFORM="offscreen")
    *told, count = done.stdout.splitlines()
    assert done.returncode == 0 and {"ValueError", "ZeroDivisionError"} <= set(told), done.stderr
    assert int(count.split()[0]) > 100 and (count.endswith("True") or sys.version_info >= (3, 12))


def test_without_a_display_it_says_what_to_do() -> None:
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = subprocess.run([sys.executable, "-m", "banister", "--demo"], capture_output=True, text=True, timeout=30, env=env)
    assert done.returncode == 5 and "xvfb-run" in done.stderr and "Traceback" not in done.stderr


def test_it_opens_on_a_real_screen(tmp_path: Path) -> None:
    assert shutil.which("Xvfb"), "Xvfb is installed by ./check"
    read_end, write_end = os.pipe()
    command = ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "1300x850x24", "-nolisten", "tcp"]
    screen = subprocess.Popen(command, pass_fds=(write_end,), stderr=subprocess.DEVNULL)
    os.close(write_end)
    number = os.read(read_end, 16).decode().strip()
    code = ("import sys; from PySide6.QtCore import QTimer; from PySide6.QtWidgets import QApplication\n"
            "import banister.desktop.main as m\n"
            "def look():\n"
            "    window = next(w for w in QApplication.topLevelWidgets() if w.metaObject().className() == 'MainWindow')\n"
            "    now = window.store.now\n"
            "    if now.heat is None or len(now.plans) < 4: QTimer.singleShot(100, look); return\n"
            "    print(window.isVisible(), len(now.plan.passes)); window.close(); QApplication.quit()\n"
            "run = QApplication.exec\n"
            "def watched(*_): QTimer.singleShot(300, look); return run()\n"
            "QApplication.exec = watched; sys.exit(m.main(['--demo']))")  # fmt: skip
    env = {k: v for k, v in os.environ.items() if k != "QT_QPA_PLATFORM"} | {"DISPLAY": f":{number}"}
    env |= {"XDG_RUNTIME_DIR": str(tmp_path)}
    try:
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60, env=env)
        assert done.returncode == 0, done.stderr
        assert done.stdout.split()[0] == "True" and int(done.stdout.split()[1]) > 10
        assert (Path(os.environ["XDG_STATE_HOME"]) / "banister" / "banister.log").read_text() == "", "nothing went wrong on the way"
    finally:
        screen.send_signal(signal.SIGTERM)
        screen.wait(10)
        os.close(read_end)


def test_the_desktop_entry_makes_a_double_click_open_a_job(tmp_path: Path) -> None:
    """Other programs answer for JSON: the entry names this one for its own files, once, and leaves the rest as it was."""
    config = tmp_path / "config"
    config.mkdir()
    (config / "mimeapps.list").write_text("[Added Associations]\ntext/plain=editor.desktop\n")
    env = {**os.environ, "HOME": str(tmp_path), "XDG_DATA_HOME": str(tmp_path / "share"), "XDG_CONFIG_HOME": str(config)}
    for _ in range(2):
        subprocess.run([ROOT / "start", "--desktop-entry"], env=env, check=True, capture_output=True)
    kept = (config / "mimeapps.list").read_text().splitlines()
    assert kept.count("application/x-banister+json=banister.desktop") == 1 and "text/plain=editor.desktop" in kept
    assert (tmp_path / "share" / "applications" / "banister.desktop").read_text().count(f'Exec="{ROOT}/start" %f') == 1


def test_every_fault_that_is_put_in_finds_its_line() -> None:
    program = Path(banister.__file__).parent
    assert [fault.name for fault in FAULTS if (program / fault.file).read_text(encoding="utf-8").count(fault.line) != 1] == []
