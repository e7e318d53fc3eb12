"""The core stands alone: no Qt, no files, no clock."""

import ast
import subprocess
import sys
from pathlib import Path

import ivory_quilt.core

ROOT = Path(ivory_quilt.core.__file__).parent
PROBE = """
import importlib, pkgutil, sys, ivory_quilt.core
for m in pkgutil.walk_packages(ivory_quilt.core.__path__, "ivory_quilt.core."):
    importlib.import_module(m.name)
bad = [m for m in sys.modules if m.partition(".")[0] in ("PySide6", "shiboken6")]
assert not bad, bad
print(len([m for m in sys.modules if m.startswith("ivory_quilt.core")]))
"""


def test_importing_the_whole_core_brings_no_qt():
    done = subprocess.run(
        [sys.executable, "-c", PROBE], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    assert int(done.stdout) > 30


def test_no_module_of_the_core_opens_files_or_asks_the_time():
    banned = {"open", "print", "input"}
    for path in ROOT.rglob("*.py"):
        tree = ast.parse(path.read_text())
        for node in ast.walk(tree):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                assert node.func.id not in banned, f"{path.name}:{node.lineno}"
            if isinstance(node, ast.Import):
                names = {a.name.partition(".")[0] for a in node.names}
                assert not names & {"time", "datetime", "os", "pathlib", "sqlite3"}, path.name
