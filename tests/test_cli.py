"""The command line as headless scripts use it: shapes, exit statuses, nothing half written."""

import json
import os
import subprocess
import sys
from contextlib import closing

import numpy as np
import pytest
from PIL import Image

from ivory_quilt.cli import main
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.files.lay_file import decode_job, encode_job
from ivory_quilt.files.project_file import placement_of, save_project
from ivory_quilt.files.project_wire import PlacementWire
from ivory_quilt.shop.sqlite_store import SqliteStore

JOB = {
    "format": "ivory-quilt/lay-job",
    "version": 1,
    "gap": 2.0,
    "sheets": [
        {
            "id": "A",
            "outline": [[0, 0], [400, 0], [400, 300], [0, 300]],
            "quantity": 2,
            "cost": "12.50",
            "margin": 5.0,
        }
    ],
    "rolls": [{"id": "R", "width": 200.0, "max_length": 900.0, "cost_per_mm": "0.021"}],
    "pieces": [
        {
            "id": "p1",
            "outline": [[0, 0], [120, 0], [60, 200]],
            "holes": [],
            "quantity": 3,
            "rotations": [0, 90, 180, 270],
            "mirror": False,
            "fixed": None,
        },
        {
            "id": "p2",
            "outline": [[0, 0], [50, 0], [50, 50], [0, 50]],
            "rotations": "free",
            "fixed": {"sheet": "A", "sheet_copy": 0, "translation": [300, 200], "rotation": 10},
        },
    ],
}


@pytest.fixture
def job(tmp_path):
    def write(**changes):
        data = json.loads(json.dumps(JOB))
        data.update(changes)
        path = tmp_path / "job.json"
        path.write_text(json.dumps(data))
        return path

    return write


def lay(path, tmp_path, *options):
    out = tmp_path / "result.json"
    status = main(["lay", str(path), "--out", str(out), *options])
    return status, json.loads(out.read_text()) if out.exists() else None


def test_lay_writes_a_result_of_the_promised_shape(job, tmp_path, capsys):
    status, result = lay(job(), tmp_path, "--iterations", "3", "--seed", "4", "--progress")
    assert status == 0
    assert (result["format"], result["version"]) == ("ivory-quilt/lay-result", 1)
    assert (result["seed"], result["stopped_by"]) == (4, "done")
    assert set(result) == {
        "format",
        "version",
        "seed",
        "seconds",
        "stopped_by",
        "cost",
        "cost_bound",
        "density",
        "placements",
        "unplaced",
        "stock",
        "history",
        "iterations",
    }
    assert len(result["placements"]) == 4
    assert float(result["cost_bound"]) <= float(result["cost"])
    assert "cost" in capsys.readouterr().err
    # What was written keeps the rules of the job, rebuilt from both files.
    placements = tuple(
        placement_of(PlacementWire(**{**p, "translation": tuple(p["translation"])}))
        for p in result["placements"]
    )
    assert violations(decode_job(job().read_bytes()), placements) == []
    pinned = next(p for p in result["placements"] if p["piece"] == "p2")
    assert (pinned["translation"], pinned["rotation"]) == ([300.0, 200.0], 10.0)


def test_the_same_job_and_seed_give_the_same_result(job, tmp_path):
    results = [lay(job(), tmp_path, "--iterations", "4", "--seed", "9")[1] for _ in range(2)]
    for result in results:
        del result["seconds"]
        result["history"] = [row[1:] for row in result["history"]]
    assert results[0] == results[1]


def test_lay_with_seconds(job, tmp_path):
    status, result = lay(job(), tmp_path, "--seconds", "0.5")
    assert status == 0
    assert result["stopped_by"] in ("time", "bound", "done")


def test_lay_stops_at_a_cost_asked_for(job, tmp_path):
    status, result = lay(job(), tmp_path, "--iterations", "3", "--target", "100")
    assert status == 0
    assert result["stopped_by"] == "target"
    assert len(result["history"]) == 1


def test_jobs_read_back_as_they_were_written(job):
    first = decode_job(job().read_bytes())
    assert decode_job(encode_job(first)) == first


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"format": "x"}, "format"),
        ({"version": 7}, "newer"),
        ({"gap": -2}, "gap"),
        ({"gap": "two"}, "gap"),
        ({"pieces": [{"id": "p", "outline": [[0, 0], [1, 1]]}]}, "piece 'p', outline"),
        ({"pieces": [{"id": "p", "outline": [[0, 0], [9, 9], [9, 0], [0, 8]]}]}, "crosses"),
        (
            {"pieces": [{"id": "p", "outline": [[0, 0], [9, 0], [9, 9]], "rotations": []}]},
            "rotations",
        ),
        (
            {"pieces": [{"id": "p", "outline": [[0, 0], [9, 0], [9, 9]], "quantity": 1.5}]},
            "quantity",
        ),
        (
            {
                "pieces": [
                    {
                        "id": "p",
                        "outline": [[0, 0], [9, 0], [9, 9]],
                        "fixed": {"sheet": "B", "translation": [0, 0]},
                    }
                ]
            },
            "no sheet 'B'",
        ),
        ({"sheets": [{"id": "A", "outline": [[0, 0], [9, 0], [9, 9]], "cost": "free"}]}, "cost"),
        ({"sheets": [{"outline": [[0, 0], [9, 0], [9, 9]]}]}, "id"),
    ],
)
def test_wrong_jobs_end_with_2_one_line_and_nothing_written(job, tmp_path, capsys, change, said):
    status, result = lay(job(**change), tmp_path, "--iterations", "1")
    error = capsys.readouterr().err
    assert (status, result) == (2, None)
    assert said in error
    assert error.count("\n") == 1


@pytest.mark.parametrize(
    "options",
    [
        ["--seconds", "soon"],
        ["--seconds", "-1"],
        ["--iterations", "many"],
        ["--seed", "x"],
        ["--target", "cheap"],
    ],
)
def test_wrong_options_end_with_2(job, tmp_path, capsys, options):
    status, result = lay(job(), tmp_path, *options)
    assert (status, result) == (2, None)
    assert options[0] in capsys.readouterr().err


def test_a_missing_file_ends_with_2(tmp_path, capsys):
    assert lay(tmp_path / "none.json", tmp_path)[0] == 2
    assert "none.json" in capsys.readouterr().err


# Reading

SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 100 50">'
    '<rect id="plate" width="40" height="30"/><path d="M60 5 L90 5 L90 35 L60 35 L60 5.3"/></svg>'
)


def test_read_writes_pieces_and_problems(tmp_path, capsys):
    path = tmp_path / "a.svg"
    path.write_text(SVG)
    out = tmp_path / "pieces.json"
    assert main(["read", str(path), str(path), "--out", str(out)]) == 0
    data = json.loads(out.read_text())
    assert data["format"] == "ivory-quilt/pieces"
    assert [p["id"] for p in data["pieces"]] == ["p1", "p2", "p3", "p4"]
    first = data["pieces"][0]
    assert (first["name"], first["area"], first["length"]) == ("plate", 1200.0, 140.0)
    assert first["source"]["file"] == "a.svg"
    assert data["problems"][0]["code"] == "open-outline"
    assert data["problems"][0]["mend"] == "closed 0.30 mm"
    assert "4 pieces" in capsys.readouterr().out


def test_read_asks_for_a_known_length(tmp_path, capsys):
    path = tmp_path / "a.svg"
    path.write_text(SVG.replace('width="100mm" height="50mm" ', ""))
    out = tmp_path / "pieces.json"
    assert main(["read", str(path), "--out", str(out)]) == 2
    assert "--known" in capsys.readouterr().err
    assert not out.exists()
    assert main(["read", str(path), "--out", str(out), "--known", "40=127mm"]) == 0
    xs = [x for x, _ in json.loads(out.read_text())["pieces"][0]["outline"]]
    assert max(xs) - min(xs) == pytest.approx(127)


@pytest.mark.parametrize("known", ["40", "40=long", "x=3mm", "0=3mm"])
def test_a_known_length_that_makes_no_sense(tmp_path, capsys, known):
    path = tmp_path / "a.svg"
    path.write_text(SVG)
    status = main(["read", str(path), "--out", str(tmp_path / "o.json"), "--known", known])
    assert status == 2
    assert "known" in capsys.readouterr().err


def test_read_refuses_what_it_does_not_read(tmp_path, capsys):
    path = tmp_path / "a.docx"
    path.write_text("x")
    assert main(["read", str(path), "--out", str(tmp_path / "o.json")]) == 2
    assert ".docx" in capsys.readouterr().err


# Planning


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    folder = tmp_path_factory.mktemp("demo")
    assert main(["demo", "--export", str(folder)]) == 0
    return folder


def test_plan_derives_everything(demo, tmp_path, capsys):
    command = [
        "plan",
        str(demo / "stag-beetle-lamplighter.ivq"),
        "--store",
        str(demo / "shop.sqlite"),
        "--seconds",
        "0.1",
        "--out-dir",
        str(tmp_path / "papers"),
        "--json",
    ]
    assert main(command) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["ledger"]["unplaced"] == 0
    assert data["ledger"]["parts"] == sum(p["count"] for p in data["parts"])
    assert {f["thickness"] for f in data["foams"]} == {1, 2, 4, 6, 8, 10}
    assert float(data["ledger"]["cost"]) >= float(data["ledger"]["cost_bound"]) > 0
    names = {p.name for p in (tmp_path / "papers").iterdir()}
    assert {"templates.pdf", "cut-sheets.pdf"} <= names
    assert any(n.endswith(".svg") for n in names)


def test_what_a_library_writes_is_no_part_of_the_plan(demo):
    """Neither at once nor from the C library's own buffer, which is written late."""
    program = """
import ctypes, os, sys
from ivory_quilt.cli import main
from ivory_quilt.core.nesting import engine
real = engine.lay
def talkative(*job, **how):
    os.write(1, b"a solver's line\\n")
    ctypes.CDLL(None).printf(b"and a late one\\n")
    return real(*job, **how)
engine.lay = talkative
sys.exit(main(sys.argv[1:]))
"""
    command = [
        sys.executable,
        "-c",
        program,
        "plan",
        str(demo / "stag-beetle-lamplighter.ivq"),
        "--store",
        str(demo / "shop.sqlite"),
        "--seconds",
        "0",
        "--json",
    ]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    assert json.loads(done.stdout)["format"]
    assert "a solver's line" in done.stderr
    assert "and a late one" in done.stderr


def test_plan_without_a_project_ends_with_2(tmp_path, capsys):
    assert main(["plan", str(tmp_path / "none.ivq")]) == 2
    assert "none.ivq" in capsys.readouterr().err


# Reckoning


def test_reckon_lists_its_calculators(capsys):
    assert main(["reckon"]) == 0
    out = capsys.readouterr().out
    for name in ("proportion", "print-scale", "scale-area", "pictured_reference="):
        assert name in out


def test_reckon_takes_units_and_gives_json(capsys):
    assert (
        main(
            [
                "reckon",
                "proportion",
                "real=33cm",
                "pictured_reference=55",
                "pictured_piece=100",
                "--json",
            ]
        )
        == 0
    )
    data = json.loads(capsys.readouterr().out)
    assert data["name"] == "proportion"
    assert data["results"]["length"] == pytest.approx(600)
    assert data["inputs"]["real"] == 330
    assert set(data["steps"][0]) == {"text", "formula", "value", "unit"}
    assert data["source"]


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["proporton"], "did you mean 'proportion'"),
        (["proportion", "real=1"], "'pictured_reference' is missing"),
        (["proportion", "reel=1"], "did you mean 'real'"),
        (["proportion", "real"], "key=value"),
        (["print-scale", "nominal=0", "measured=5"], "nominal"),
        (["scale-area", "factor=big", "area=5"], "factor"),
    ],
)
def test_wrong_reckonings_end_with_2(capsys, arguments, said):
    assert main(["reckon", *arguments]) == 2
    error = capsys.readouterr().err
    assert said in error
    assert error.count("\n") == 1


def test_the_demo_needs_a_screen(monkeypatch, capsys):
    for name in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY"):
        monkeypatch.delenv(name, raising=False)
    assert main(["demo"]) == 2
    assert "no screen" in capsys.readouterr().err


def test_groups_hidden_parts_and_flaws_are_read_and_written(job):
    piece = {"id": "p", "outline": [[0, 0], [90, 0], [90, 40]], "group": "pair", "hidden": True}
    sheet = {
        "id": "A",
        "outline": [[0, 0], [300, 0], [300, 200], [0, 200]],
        "defects": [[[10, 10], [40, 10], [40, 30]]],
    }
    made = decode_job(job(pieces=[piece], sheets=[sheet]).read_bytes())
    assert (made.pieces[0].group, made.pieces[0].hidden) == ("pair", True)
    again = decode_job(encode_job(made))
    assert again.pieces[0].group == "pair"
    assert again.sheets[0].defects[0].area == pytest.approx(made.sheets[0].defects[0].area)


def test_a_refused_layout_is_reported_in_a_file_beside_the_result(
    job, tmp_path, capsys, monkeypatch
):
    from ivory_quilt.core.nesting import engine

    real = engine.lay

    def faulty(*args, **rest):
        return replace(real(*args, **rest), faults=("'p1' leaves 'A'",))

    monkeypatch.setattr(engine, "lay", faulty)
    status, result = lay(job(), tmp_path, "--iterations", "1", "--seed", "7")
    assert status == 0
    assert result["placements"]
    report = json.loads((tmp_path / "result.fault.json").read_text())
    assert (report["format"], report["seed"]) == ("ivory-quilt/lay-fault", 7)
    assert report["faults"] == ["'p1' leaves 'A'"]
    decode_job(json.dumps(report["job"]).encode())
    assert "refused" in capsys.readouterr().err


# Trouble from outside


def cli_run(*arguments, **given):
    command = [sys.executable, "-m", "ivory_quilt.cli", *map(str, arguments)]
    return subprocess.run(command, capture_output=True, text=True, check=False, **given)


def test_a_full_or_plain_standard_output_is_said_in_a_sentence(job, tmp_path):
    with open("/dev/full", "w") as full:
        ended = subprocess.run(
            [sys.executable, "-m", "ivory_quilt.cli", "reckon"],
            stdout=full,
            stderr=subprocess.PIPE,
            text=True,
            check=False,
        )
    assert ended.returncode == 2
    assert ended.stderr == "ivory-quilt: output: cannot be written (No space left on device)\n"
    latin = os.environ | {"PYTHONIOENCODING": "latin-1"}
    plain = cli_run("reckon", "dish", "base_radius=60", "height=20", env=latin, errors="replace")
    assert plain.returncode == 0
    assert "Traceback" not in plain.stderr


def test_control_signs_of_names_reach_no_terminal(capsys, tmp_path):
    path = tmp_path / "odd.ivq"
    plate = Piece("p", "pl\x1b[31mate", rectangle(80, 40), thickness=77.0)
    save_project(Project("su\x07it", (plate,)), path)
    assert main(["plan", str(path), "--seconds", "0", "--out-dir", str(tmp_path / "out")]) == 0
    said = capsys.readouterr()
    assert "\x1b" not in said.out + said.err
    assert "su it" in said.out


def test_a_store_that_is_not_there_is_not_made(capsys, tmp_path):
    path = tmp_path / "suit.ivq"
    save_project(Project("suit"), path)
    assert main(["plan", str(path), "--store", str(tmp_path / "typo.sqlite")]) == 2
    assert "there is no shop store" in capsys.readouterr().err
    assert not (tmp_path / "typo.sqlite").exists()


def test_papers_come_all_or_none_and_old_sheets_go(capsys, tmp_path, monkeypatch):
    path, out = tmp_path / "suit.ivq", tmp_path / "out"
    store = tmp_path / "shop.sqlite"
    with closing(SqliteStore(store)) as made:
        fill_demo_shop(made)
    many = tuple(Piece(f"p{k}", f"plate {k}", rectangle(400, 300)) for k in range(6))
    plan = ["plan", str(path), "--store", str(store), "--seconds", "0", "--out-dir", str(out)]
    save_project(Project("suit", many), path)
    assert main(plan) == 0
    first = {p.name for p in out.iterdir()}
    (out / "notes.svg").write_text("mine")
    save_project(Project("suit", many[:1]), path)
    assert main(plan) == 0
    second = {p.name for p in out.iterdir()}
    assert "notes.svg" in second
    assert len([n for n in second if n.startswith("cut-")]) < len(
        [n for n in first if n.startswith("cut-")]
    )
    before = {p.name: p.read_bytes() for p in out.iterdir()}
    real, calls = os.fsync, []

    def full(handle):
        calls.append(handle)
        if len(calls) == 3:
            raise OSError(28, "No space left on device")
        real(handle)

    monkeypatch.setattr(os, "fsync", full)
    save_project(Project("suit", many), tmp_path / "x.ivq")
    calls.clear()
    save_project_bytes = (tmp_path / "x.ivq").read_bytes()
    path.write_bytes(save_project_bytes)
    assert main(plan) == 2
    assert "No space left on device" in capsys.readouterr().err
    assert {p.name: p.read_bytes() for p in out.iterdir()} == before


def test_a_home_that_cannot_be_written_is_no_reason_to_stop(tmp_path):
    (tmp_path / "file").write_text("")
    nowhere = str(tmp_path / "file" / "below")
    homeless = os.environ | {
        "XDG_DATA_HOME": nowhere,
        "XDG_CONFIG_HOME": nowhere,
        "XDG_CACHE_HOME": nowhere,
        "QT_QPA_PLATFORM": "offscreen",
        "IVORY_QUILT_QUIT_AFTER": "1",
    }
    assert cli_run("reckon", env=homeless).returncode == 0
    ended = cli_run("desk", env=homeless, timeout=240)
    assert (ended.returncode, ended.stderr) == (0, "")


def test_noise_is_refused_in_one_sentence(capsys, tmp_path):
    noise = np.random.default_rng(1).integers(0, 255, (600, 800), dtype=np.uint8)
    Image.fromarray(noise).save(tmp_path / "noise.png", dpi=(300, 300))
    assert main(["read", str(tmp_path / "noise.png"), "--out", str(tmp_path / "o.json")]) == 2
    said = capsys.readouterr().err
    assert "expected dark lines" in said
    assert said.count("\n") == 1
