"""What is kept of unsaved work, and who may take it."""

import subprocess
import sys
from pathlib import Path

import pytest

from ivory_quilt.core.document.difference import differences
from ivory_quilt.core.document.project import KeptLayout, Project, change_piece, set_gap, set_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.files.atomic import FileStamp
from ivory_quilt.files.project_file import encode_project, save_project
from ivory_quilt.files.project_rescue import rescue_project
from ivory_quilt.files.recovery import RecoveryFolder, WorkState

SUIT = Project("suit", tuple(Piece(f"p{k}", f"plate {k}", rectangle(80, 40 + k)) for k in range(4)))
LAID = (KeptLayout(Foam(6.0, "eva"), (Placement("p0", 0, "s", 0, Pose(5, 5)),)),)


def state(project=SUIT, path=None, label="Name", time="2027-03-01T18:00:00+01:00"):
    return WorkState(project, path, None, label, time)


def kept_by_another(folder, project=SUIT, path=None):
    """Let another process keep work and end without a word."""
    save_project(project, folder.parent / "given.ivq")
    code = (
        "import os, sys; from pathlib import Path\n"
        "from ivory_quilt.files.recovery import *; from ivory_quilt.files.project_file import *\n"
        f"journal = RecoveryFolder(Path({str(folder)!r})).begin()\n"
        f"path = {str(path)!r}; path = None if path == 'None' else Path(path)\n"
        "journal.name_open(path, 'now')\n"
        f"project = load_project(Path({str(folder.parent / 'given.ivq')!r}))\n"
        "journal.keep(WorkState(project, path, None, 'Name', '2027-03-01T18:00:00+01:00'))\n"
        "os._exit(9)"
    )
    subprocess.run([sys.executable, "-c", code], check=False)


def test_work_of_a_process_that_is_gone_is_offered_whole(tmp_path):
    root = tmp_path / "recovery"
    laid = replace(SUIT, layouts=LAID)
    kept_by_another(root, laid, tmp_path / "suit.ivq")
    (left,) = RecoveryFolder(root).leftovers()
    assert (left.name, left.label, left.time[:4]) == ("suit", "Name", "2027")
    found = left.read()
    assert found.project == laid
    assert found.path == tmp_path / "suit.ivq"
    left.discard()
    assert RecoveryFolder(root).leftovers() == []


def test_work_of_a_living_window_is_nobody_elses(tmp_path):
    folder = RecoveryFolder(tmp_path)
    journal = folder.begin()
    journal.keep(state())
    assert folder.leftovers() == []
    journal.close()
    assert folder.leftovers() == []
    assert list(tmp_path.glob("window-*")) == []


def test_layouts_are_written_only_when_they_change(tmp_path):
    journal = RecoveryFolder(tmp_path).begin()
    project = replace(SUIT, layouts=LAID)
    journal.keep(state(project))
    first = [p.name for p in journal.folder.glob("layouts-*")]
    journal.keep(state(set_gap(project, 3)))
    assert [p.name for p in journal.folder.glob("layouts-*")] == first
    journal.keep(state(replace(project, layouts=())))
    assert [p.name for p in journal.folder.glob("layouts-*")] != first
    assert len(list(journal.folder.glob("*-*.json"))) == 2
    journal.clear()
    assert sorted(p.name for p in journal.folder.iterdir()) == ["lock"]
    journal.close()


def test_a_head_that_is_damaged_or_missing_loses_no_work(tmp_path):
    root = tmp_path / "recovery"
    kept_by_another(root)
    (folder,) = root.glob("window-*")
    for harm in ("{", None):
        if harm is None:
            (folder / "work.json").unlink()
        else:
            (folder / "work.json").write_text(harm)
        (left,) = RecoveryFolder(root).leftovers()
        assert left.read().project == SUIT
    next(folder.glob("work-*")).write_text("{")
    (left,) = RecoveryFolder(root).leftovers()
    with pytest.raises(InputError):
        left.read()


def test_a_second_window_sees_what_the_first_has_open(tmp_path):
    folder = RecoveryFolder(tmp_path)
    path = tmp_path / "suit.ivq"
    first, second = folder.begin(), folder.begin()
    first.name_open(path, "2027-03-01T18:00:00+01:00")
    (tmp_path / "link.ivq").symlink_to(path)
    assert folder.opened_elsewhere(path, second) == "2027-03-01T18:00:00+01:00"
    assert folder.opened_elsewhere(tmp_path / "link.ivq", second) is not None
    assert folder.opened_elsewhere(path, first) is None
    assert folder.opened_elsewhere(tmp_path / "other.ivq", second) is None
    first.close()
    assert folder.opened_elsewhere(path, second) is None
    second.close()


def test_stamps_and_odd_names_come_back(tmp_path):
    path = Path("/tmp") / b"\xff.ivq".decode("utf-8", "surrogateescape")
    stamp = FileStamp(3, 4, 5)
    journal = RecoveryFolder(tmp_path).begin()
    journal.keep(WorkState(SUIT, path, stamp, "Name", "2027-03-01T18:00:00+01:00"))
    head = (journal.folder / "work.json").read_bytes()
    assert b"\xff" not in head
    journal.leave_behind()
    (left,) = RecoveryFolder(tmp_path).leftovers()
    assert (left.read().path, left.read().stamp) == (path, stamp)


def test_a_place_that_cannot_be_written_is_said(tmp_path):
    (tmp_path / "file").write_text("")
    with pytest.raises(InputError, match="cannot be written"):
        RecoveryFolder(tmp_path / "file" / "below").begin()
    assert RecoveryFolder(tmp_path / "file" / "below").leftovers() == []


def test_what_differs_is_said_in_words():
    assert differences(SUIT, SUIT) == []
    after = set_name(change_piece(SUIT, "p1", name="rim", count=3), "parade")
    assert differences(SUIT, after) == [
        "named parade, was suit",
        "rim: name, quantity changed",
    ]
    fewer = replace(SUIT, pieces=SUIT.pieces[2:], gap=3.0, layouts=LAID)
    assert differences(SUIT, fewer) == [
        "2 pieces removed: plate 0, plate 1",
        "gap 3 mm, was 2 mm",
        "kept layouts changed",
    ]
    many = replace(SUIT, pieces=tuple(replace(p, count=5) for p in SUIT.pieces))
    assert differences(SUIT, many) == ["4 pieces changed: plate 0, plate 1, plate 2 and 1 more"]


# Damaged files


def test_of_a_file_cut_short_the_whole_pieces_come_back():
    data = encode_project(SUIT)
    at = data.index(b'"plate 2"')
    rescued = rescue_project(data[:at])
    assert [p.name for p in rescued.project.pieces] == ["plate 0", "plate 1"]
    assert (rescued.project.name, rescued.left_out) == ("suit", 1)
    assert "2 pieces can be read" in rescued.words


def test_a_bad_stretch_costs_one_piece():
    data = bytearray(encode_project(SUIT))
    at = data.index(b'"plate 1"')
    data[at + 20 : at + 60] = b"\xff" * 40
    rescued = rescue_project(bytes(data))
    assert [p.name for p in rescued.project.pieces] == ["plate 0", "plate 2", "plate 3"]


@pytest.mark.parametrize(
    ("old", "new", "lost"),
    [
        (b'"id": "p2"', b'"id": "p1"', 1),
        (b'"gap": 2.0', b'"gap": 1e9', 0),
        (b'"name": "plate 3"', b'"name": 7', 1),
    ],
)
def test_a_wrong_field_costs_no_more_than_its_entry(old, new, lost):
    rescued = rescue_project(encode_project(SUIT).replace(old, new))
    assert rescued.left_out == lost
    assert len(rescued.project.pieces) == 4 - lost


def test_of_nothing_whole_nothing_is_offered():
    assert rescue_project(encode_project(SUIT).replace(b'"count": 1', b'"count": -1')) is None


def test_what_is_no_project_or_newer_is_left_alone():
    assert rescue_project(b"a shopping list") is None
    assert rescue_project(encode_project(SUIT).replace(b'"version": 1', b'"version": 9')) is None
