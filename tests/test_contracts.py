"""The guards of the house: each is broken once on a copy, and must see it."""

import ast
import os
import re
import shutil
import subprocess
import sys
import tomllib
from collections import Counter
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "ivory_quilt"
CONTRACTS = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"][
    "contracts"
]
OFFENCES = {
    "The house: rooms import one way": ("shop/places.py", "import ivory_quilt.desk.session"),
    "The core: rooms import to the right only": (
        "core/geometry/curves.py",
        "import ivory_quilt.core.plan.plan",
    ),
    "The core has no Qt and touches no files": ("core/units.py", "import tempfile"),
    "The desk: rooms import one way": (
        "desk/widgets/basics.py",
        "import ivory_quilt.desk.commands.menus",
    ),
    "No station imports another": (
        "desk/stations/buy/presenter.py",
        "import ivory_quilt.desk.stations.lay.presenter",
    ),
}


def lint(folder):
    """Check the contracts of a copy; return (name, verdict) of each."""
    command = Path(sys.executable).with_name("lint-imports")
    done = subprocess.run(
        [command, "--no-cache", "--config", folder / "pyproject.toml"],
        cwd=folder,
        env=os.environ | {"PYTHONPATH": str(folder / "src")},
        capture_output=True,
        text=True,
        check=False,
    )
    return dict(
        re.findall(r"(?m)^(.*) (KEPT|BROKEN)(?: \(1 ignored import\))?$", done.stdout)
    ), done


@pytest.fixture(scope="module")
def copy(tmp_path_factory):
    folder = tmp_path_factory.mktemp("house")
    shutil.copytree(SOURCE, folder / "src" / "ivory_quilt", ignore=shutil.ignore_patterns("*.pyc"))
    shutil.copy(ROOT / "pyproject.toml", folder)
    return folder


def test_every_contract_holds_and_every_one_sees_its_offence(copy):
    names = {c["name"] for c in CONTRACTS}
    assert names == set(OFFENCES)
    kept, done = lint(copy)
    assert kept == dict.fromkeys(names, "KEPT"), done.stdout[-2000:] + done.stderr
    for file, line in OFFENCES.values():
        path = copy / "src" / "ivory_quilt" / file
        path.write_text(f"{path.read_text()}\n{line}\n")
    broken, done = lint(copy)
    assert broken == dict.fromkeys(names, "BROKEN"), done.stdout[-2000:]
    assert done.returncode == 1


def test_no_room_and_no_station_is_left_out():
    by_name = {c["name"]: c for c in CONTRACTS}
    stations = {p.parent.name for p in SOURCE.glob("desk/stations/*/view.py")}
    named = by_name["No station imports another"]["modules"]
    assert {m.rpartition(".")[2] for m in named} == stations
    exhaustive = [c["name"] for c in CONTRACTS if c["type"] == "layers" and c["exhaustive"]]
    assert len(exhaustive) == 3


def test_a_station_has_a_presenter_and_a_view():
    for view in SOURCE.glob("desk/stations/*/view.py"):
        assert view.with_name("presenter.py").exists(), view.parent.name


def test_one_class_name_is_one_thing():
    names = Counter(
        node.name
        for path in SOURCE.rglob("*.py")
        for node in ast.parse(path.read_text()).body
        if isinstance(node, ast.ClassDef)
    )
    assert [name for name, count in names.items() if count > 1] == []


def test_records_are_of_one_kind_and_compare_both_ways():
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.ClassDef):
                continue
            where = f"{path.name}, {node.name}"
            assert "dataclass" not in " ".join(map(ast.unparse, node.decorator_list)), where
            own = {f.name for f in node.body if isinstance(f, ast.FunctionDef)}
            # A record's own `!=` knows nothing of an `==` that a class brings.
            assert ("__eq__" in own) == ("__ne__" in own), where


def test_the_formatter_is_trusted_everywhere():
    for path in [*ROOT.glob("src/**/*.py"), *ROOT.glob("tests/**/*.py")]:
        assert not re.search(r"#\s*fmt:" + r"\s*(skip|off)", path.read_text()), path
