"""`formup` on the command line: its fixed shape, its formers, and what it refuses."""

import json
import subprocess
import sys

import numpy as np
import pytest
import trimesh

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.surface import vertex_normals
from ivory_quilt.files.body_file import read_body, write_formed
from ivory_quilt.files.formup_file import decode_formup, encode_formup
from tests.core.formup.nets import round_about


def side(panel, start, stop, way):
    return {"panel": panel, "from": start, "to": stop, "way": way}


TUBE = {
    "format": "ivory-quilt/formup-job",
    "version": 1,
    "edge": 14.0,
    "former": None,
    "panels": [
        {
            "id": "sleeve",
            "outline": [[0, 0], [300, 0], [300, 90], [0, 90]],
            "thickness": 6.0,
            "face": "middle",
            "mirrored": False,
        }
    ],
    "seams": [{"a": side("sleeve", 1, 2, 1), "b": side("sleeve", 0, 3, -1), "meet": "smooth"}],
    "folds": [],
    "bends": [],
}


def run(tmp_path, job, *more):
    (tmp_path / "job.json").write_text(json.dumps(job))
    words = [sys.executable, "-m", "ivory_quilt.cli", "formup", "job.json", "--out", "result.json"]
    return subprocess.run(
        [*words, *more], cwd=tmp_path, capture_output=True, text=True, check=False
    )


def test_a_formed_sleeve_has_its_fixed_shape(tmp_path):
    done = run(tmp_path, TUBE, "--body", "sleeve.stl", "--body", "sleeve.glb")
    assert (done.returncode, done.stderr) == (0, "")
    assert "1 panel, " in done.stdout
    result = json.loads((tmp_path / "result.json").read_text())
    assert (result["format"], result["version"]) == ("ivory-quilt/formup-result", 1)
    assert set(result) == {"format", "version", "panels", "seams", "strain", "problems"}
    (panel,) = result["panels"]
    assert set(panel) == {"id", "flat", "vertices", "triangles"}
    flat, places, triangles = (np.array(panel[k]) for k in ("flat", "vertices", "triangles"))
    assert flat.shape == (len(places), 2)
    assert places.shape[1] == triangles.shape[1] == 3
    assert np.ptp(flat, axis=0) == pytest.approx((300, 90))
    radii = round_about(places, vertex_normals(places, triangles))
    assert radii == pytest.approx(300 / (2 * np.pi), rel=2e-3)
    (seam,) = result["seams"]
    assert {"gap", "length_a", "length_b", "angle"} <= set(seam)
    assert (seam["gap"], seam["length_a"]) == (0.0, pytest.approx(90.0))
    assert set(result["strain"]) == {"p01", "p50", "p99"}
    assert result["problems"] == []
    mesh = trimesh.load_mesh(tmp_path / "sleeve.stl")
    assert len(mesh.faces) == len(triangles)
    assert np.ptp(mesh.vertices, axis=0).max() == pytest.approx(
        np.ptp(places, axis=0).max(), abs=0.1
    )
    scene = trimesh.load_scene(tmp_path / "sleeve.glb")
    assert scene.extents.max() == pytest.approx(np.ptp(places, axis=0).max() / 1000, rel=1e-3)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"panels": []}, "panels"),
        ({"seams": [{"a": side("sleeve", 1, 2, 1), "b": side("sleeve", 3, 0, 1)}]}, "twisted"),
        ({"seams": [{"a": side("sleeve", 1, 2, 1), "b": side("cuff", 3, 0, 1)}]}, "cuff"),
        ({"seams": [{"a": side("sleeve", 1, 2, 2), "b": side("sleeve", 0, 3, -1)}]}, "way"),
        ({"former": {"sphere": 30, "cylinder": 20}}, "sphere and cylinder"),
        ({"former": {"mesh": "nowhere.stl"}}, "nowhere.stl"),
        ({"former": {"mesh": "head.step"}}, ".stl or .obj"),
        ({"edge": "fine"}, "edge"),
        ({"version": 9}, "version"),
    ],
)
def test_what_is_wrong_is_said_in_one_line_and_nothing_is_written(tmp_path, change, words):
    done = run(tmp_path, {**TUBE, **change})
    assert done.returncode == 2
    assert len(done.stderr.strip().splitlines()) == 1
    assert words in done.stderr
    assert not (tmp_path / "result.json").exists()


def test_the_time_that_is_given_is_kept(tmp_path):
    done = run(tmp_path, {**TUBE, "edge": 2.0}, "--seconds", "0.3")
    assert done.returncode == 0
    assert "did not come to rest" in done.stdout
    assert run(tmp_path, TUBE, "--seconds", "soon").returncode == 2


def test_formers_are_read_from_stl_and_obj_and_open_ones_refused(tmp_path):
    ball = trimesh.creation.icosphere(subdivisions=2, radius=40.0)
    for name in ("ball.stl", "ball.obj"):
        ball.export(tmp_path / name)
        body = read_body(tmp_path / name)
        assert (len(body.triangles), np.abs(body.vertices).max()) == (
            320,
            pytest.approx(40, abs=0.5),
        )
    data = json.dumps({**TUBE, "former": {"mesh": "ball.stl"}}).encode()
    job = decode_formup(data, folder=tmp_path)
    assert len(job.former.triangles) == 320
    ball.update_faces(np.arange(len(ball.faces)) > 3)
    ball.export(tmp_path / "open.stl")
    with pytest.raises(InputError, match=r"former 'open\.stl': the mesh is open at \d+ edges"):
        read_body(tmp_path / "open.stl")
    (tmp_path / "no.obj").write_bytes(b"\x00\x01 nothing")
    with pytest.raises(InputError, match=r"no\.obj"):
        read_body(tmp_path / "no.obj")


def test_what_is_written_is_read_back_by_another_library(tmp_path):
    formed = form(decode_formup(json.dumps(TUBE).encode())).shape
    write_formed(formed, tmp_path / "sleeve.obj")
    mesh = trimesh.load_mesh(tmp_path / "sleeve.obj")
    assert mesh.area == pytest.approx(300 * 90, rel=5e-3)
    with pytest.raises(InputError, match=r"\.ply"):
        write_formed(formed, tmp_path / "sleeve.ply")
    assert json.loads(encode_formup(formed))["panels"][0]["id"] == "sleeve"
