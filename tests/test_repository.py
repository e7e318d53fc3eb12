"""The repository itself: documents true to the code, packaging sound, the wheel whole."""

import json
import re
import subprocess
import sys
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import jsonschema
import pytest

from ivory_quilt.demo.project import demo_project
from ivory_quilt.files.project_file import encode_project
from ivory_quilt.files.schema_doc import schema, with_schemas

ROOT = Path(__file__).parent.parent


def test_the_published_schemas_are_those_of_the_code():
    text = (ROOT / "docs/formats.md").read_text()
    assert with_schemas(text) == text, "run ./quilt formats"


def test_projects_satisfy_their_published_schema():
    jsonschema.validate(json.loads(encode_project(demo_project())), schema("project"))
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({"format": "ivory-quilt/project"}, schema("project"))


def test_every_link_of_the_documents_leads_somewhere():
    for path in [*ROOT.glob("*.md"), *(ROOT / "docs").glob("*.md")]:
        for target in re.findall(r"\]\(([^)#:]+)\)", path.read_text()):
            assert (path.parent / target).exists(), f"{path.name}: {target}"


def test_no_committed_file_names_an_address_of_a_registry():
    banned = re.compile(
        "|".join(["pypi" + r"\.org", "python" + "hosted", "npm" + "js", "index" + "-url"])
    )
    listed = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    for name in listed.stdout.split():
        path = ROOT / name
        if path.suffix in (".py", ".toml", ".txt", ".md", ".xml", "") and name != "tests/" + (
            Path(__file__).name
        ):
            assert not banned.search(path.read_text()), name


def test_desktop_files_are_well_formed():
    folder = ROOT / "packaging"
    ident = "org.ivoryquilt.IvoryQuilt"
    entry = (folder / f"{ident}.desktop").read_text()
    assert "Exec=ivory-quilt-desk %F" in entry
    assert "MimeType=application/x-ivory-quilt;" in entry
    mime = ElementTree.parse(folder / f"{ident}.mime.xml").getroot()
    (glob,) = mime.iter("{http://www.freedesktop.org/standards/shared-mime-info}glob")
    assert glob.get("pattern") == "*.ivq"
    assert ElementTree.parse(folder / f"{ident}.metainfo.xml").findtext("id") == ident
    ElementTree.parse(folder / f"{ident}.svg")


def test_the_wheel_holds_everything_that_ships(tmp_path):
    uv = Path(sys.executable).with_name("uv")
    command = [
        str(uv),
        "build",
        "--wheel",
        "--no-build-isolation",
        "--offline",
        "-o",
        str(tmp_path),
    ]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    (wheel,) = tmp_path.glob("*.whl")
    names = zipfile.ZipFile(wheel).namelist()
    for wanted in (
        "ivory_quilt/data/fonts/IBMPlexSans-Regular.ttf",
        "ivory_quilt/data/fonts/OFL.txt",
        "ivory_quilt/data/icons/lay.svg",
        "ivory_quilt/core/nesting/kernels/slices.py",
        "share/applications/org.ivoryquilt.IvoryQuilt.desktop",
        "share/mime/packages/org.ivoryquilt.IvoryQuilt.xml",
        "share/icons/hicolor/scalable/apps/org.ivoryquilt.IvoryQuilt.svg",
        "licenses/LICENSE",
    ):
        assert any(n.endswith(wanted) for n in names), wanted
    points = next(n for n in names if n.endswith("entry_points.txt"))
    text = zipfile.ZipFile(wheel).read(points).decode()
    assert "ivory-quilt = ivory_quilt.cli:main" in text
    assert "ivory-quilt-desk = ivory_quilt.cli:desk_main" in text
