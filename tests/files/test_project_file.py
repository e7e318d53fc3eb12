import json
import os
import stat

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import KeptLayout, Paper, Project, add_pieces, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet
from ivory_quilt.demo.project import demo_project
from ivory_quilt.files.atomic import read_bytes, write_atomic
from ivory_quilt.files.project_file import (
    decode_project,
    encode_project,
    load_project,
    save_project,
)
from tests.effort import random_cases
from tests.strategies import pieces, poses


def small():
    return Project("Ünited", (Piece("a", "a", rectangle(10, 20)),), gap=1.5, paper=Paper.LETTER)


@random_cases(60, 600)
@given(
    st.lists(pieces(), max_size=4),
    st.lists(poses, max_size=3),
    st.floats(0, 100, allow_nan=False),
)
def test_loading_what_was_saved_gives_the_same_project(made, where, gap):
    project = add_pieces(Project("P", gap=gap), made)
    placements = tuple(Placement("p", k, "own:s", k, pose) for k, pose in enumerate(where))
    kept = KeptLayout(Foam(4.0, "eva"), placements, frozenset({("p", 0)}))
    project = keep_layout(project, kept)
    assert decode_project(encode_project(project)) == project


def test_the_demo_survives_saving(tmp_path):
    project = demo_project()
    save_project(project, tmp_path / "demo.ivq")
    assert load_project(tmp_path / "demo.ivq") == project


def half_cut():
    """A sheet under the knife whose first part waits for its second pass."""
    foam = Foam(6.0, "eva")
    part = CutPart("a", "a", rectangle(50, 40), Pose(5, 5, 90.0), CutState.WAITING)
    parts = (replace(part, settings=(0, 45), passes=1), replace(part, pose=Pose(80, 5)))
    item = sheet("s", "half", foam, (500, 300), owned=1)
    return SpentSheet("cut", item, True, None, parts, under_knife=True, order=(0, 1, 0))


def test_a_sheet_under_the_knife_is_kept_with_its_passes():
    project = Project(spent=(half_cut(),))
    assert decode_project(encode_project(project)) == project
    assert decode_project(encode_project(project)).spent[0].to_make == ((1, 0), (0, 1))


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [("order", [0, 1], "order of passes"), ("order", [0, 1, 2], "order of passes")],
)
def test_passes_that_cannot_be_are_refused(field, value, words):
    data = json.loads(encode_project(Project(spent=(half_cut(),))))
    data["spent"][0][field] = value
    with pytest.raises(InputError, match=words):
        decode_project(json.dumps(data).encode())
    data = json.loads(encode_project(Project(spent=(half_cut(),))))
    for wrong in ({"passes": 2}, {"passes": -1}, {"passes": 0, "settings": []}):
        data["spent"][0]["parts"][0] |= wrong
        with pytest.raises(InputError, match="passes are made"):
            decode_project(json.dumps(data).encode())


def test_the_file_is_readable_json_with_a_version(tmp_path):
    save_project(small(), tmp_path / "p.ivq")
    data = json.loads((tmp_path / "p.ivq").read_text())
    assert (data["format"], data["version"], data["name"]) == ("ivory-quilt/project", 1, "Ünited")
    assert data["pieces"][0]["outline"] == [[0, 0], [10, 0], [10, 20], [0, 20]]


def test_one_backup_is_kept(tmp_path):
    path = tmp_path / "p.ivq"
    save_project(small(), path)
    first = path.read_bytes()
    save_project(Project("second"), path)
    save_project(Project("third"), path)
    assert load_project(path).name == "third"
    assert decode_project((tmp_path / "p.ivq~").read_bytes()).name == "second"
    assert first != path.read_bytes()
    assert sorted(p.name for p in tmp_path.iterdir()) == ["p.ivq", "p.ivq~"]


def test_a_newer_file_is_refused_and_says_what_to_do():
    data = json.loads(encode_project(small()))
    data["version"] = 2
    with pytest.raises(InputError, match=r"newer Ivory Quilt .*version 2.*nothing was changed"):
        decode_project(json.dumps(data).encode())


def change(**changes):
    data = json.loads(encode_project(small()))
    data.update(changes)
    return json.dumps(data).encode()


def change_piece(**changes):
    data = json.loads(encode_project(small()))
    data["pieces"][0].update(changes)
    return json.dumps(data).encode()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not JSON"),
        (b"{", "not JSON"),
        (b"[]", "names no format"),
        (b"\xff\xff", "not JSON"),
        (b"[" * 100_000, "not JSON"),
        (change(format="other/thing"), "other/thing"),
        (change(version="1"), "version"),
        (change(version=0), "version"),
        (change(name=3), "name"),
        (change(gap=-1), "gap"),
        (change(gap="wide"), "gap"),
        (change(paper="A9"), "paper"),
        (change(pieces=7), "pieces"),
        (change_piece(thickness="thick"), r"pieces\[0\]\.thickness|pieces.*thickness"),
        (change_piece(thickness=0), "piece 'a'.*thickness"),
        (change_piece(hand="third"), "hand"),
        (change_piece(outline=[[0, 0], [1, 1]]), "piece 'a'"),
        (change_piece(outline=[[0, 0], [9, 9], [9, 0], [0, 9.5]]), "crosses"),
        (change_piece(outline=[[0, 0], [9, 9, 9]]), "outline"),
        (change_piece(lines=[{"kind": "score", "points": [[0, 0]]}]), "line"),
        (change_piece(count=-3), "count"),
        (change_piece(id=""), "name"),
    ],
)
def test_wrong_files_are_refused_naming_the_field(data, said):
    with pytest.raises(InputError, match=said) as caught:
        decode_project(data, where="p.ivq")
    assert "p.ivq" in str(caught.value)
    assert "\n" not in str(caught.value)


@given(st.binary(max_size=300))
def test_any_bytes_are_refused_in_one_sentence(data):
    with pytest.raises(InputError):
        decode_project(data)


def test_unknown_fields_of_the_same_version_are_no_trouble():
    assert decode_project(change(note="from a friend")) == small()


# Writing


def test_a_failed_write_leaves_the_old_file_and_nothing_else(tmp_path, monkeypatch):
    path = tmp_path / "p.ivq"
    save_project(small(), path)
    before = path.read_bytes()

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(InputError, match="No space left"):
        save_project(Project("new"), path)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["p.ivq"]


def test_writing_where_there_is_no_folder_is_refused(tmp_path):
    with pytest.raises(InputError, match="cannot be written"):
        write_atomic(tmp_path / "no" / "x.pdf", b"x")


def test_files_keep_their_permissions(tmp_path):
    path = tmp_path / "p.ivq"
    write_atomic(path, b"1")
    path.chmod(0o600)
    write_atomic(path, b"2")
    assert stat.S_IMODE(path.stat().st_mode) == 0o600


def test_reading_refuses_folders_missing_and_huge_files(tmp_path):
    with pytest.raises(InputError, match="folder"):
        read_bytes(tmp_path)
    with pytest.raises(InputError, match="cannot be read"):
        read_bytes(tmp_path / "none")
    (tmp_path / "big").write_bytes(b"x" * 2000)
    with pytest.raises(InputError, match="larger"):
        read_bytes(tmp_path / "big", most=1000)


def test_a_placement_is_written_as_the_command_line_promises():
    kept = KeptLayout(Foam(6.0, "eva"), (Placement("a", 0, "own:s", 1, Pose(1, 2, 90, True)),))
    data = json.loads(encode_project(keep_layout(small(), kept)))
    assert data["layouts"][0]["placements"][0] == {
        "piece": "a",
        "copy": 0,
        "sheet": "own:s",
        "sheet_copy": 1,
        "mirrored": True,
        "rotation": 90.0,
        "translation": [1.0, 2.0],
    }
