"""`schedule` on the command line: its fixed shape, and what it refuses."""

import json
import subprocess
import sys

import pytest

JOB = {
    "format": "ivory-quilt/schedule-job",
    "version": 1,
    "start": "2027-03-01T18:00",
    "due": None,
    "resources": [{"id": "maker", "capacity": 1, "calendar": None}],
    "tasks": [
        {"id": "coat", "minutes": 6, "needs": {"maker": 1}},
        {"id": "join", "minutes": 4, "needs": {"maker": 1}},
        {"id": "sand", "minutes": 8, "needs": {"maker": 1}},
    ],
    "follows": [{"task": "join", "after": "coat", "least": 10, "most": 15}],
}
SECONDS = ["2027-03-01T18:00:30", "2027-03-01T19:00"]
BACK = {"task": "coat", "after": "join"}


def run(tmp_path, job):
    (tmp_path / "job.json").write_text(json.dumps(job))
    words = [sys.executable, "-m", "ivory_quilt.cli", "schedule", "job.json", "--seconds", "5"]
    return subprocess.run(
        [*words, "--out", "result.json"], cwd=tmp_path, capture_output=True, text=True, check=False
    )


def test_a_schedule_has_its_fixed_shape(tmp_path):
    done = run(tmp_path, JOB)
    assert (done.returncode, done.stderr) == (0, "")
    assert done.stdout == "3 tasks, done after 20 min (proven)\n"
    result = json.loads((tmp_path / "result.json").read_text())
    assert result["format"] == "ivory-quilt/schedule-result"
    assert (result["makespan"], result["bound"], result["optimal"]) == (20, 20, True)
    assert [t["id"] for t in result["tasks"]] == ["coat", "join", "sand"]
    assert all(
        t["end"] - t["start"] == JOB["tasks"][k]["minutes"] for k, t in enumerate(result["tasks"])
    )


def test_calendars_are_read_as_times_from_the_start(tmp_path):
    evenings = [["2027-03-01T18:30", "2027-03-01T18:40"], ["2027-03-02T18:00", "2027-03-02T20:00"]]
    job = JOB | {"resources": [{"id": "maker", "capacity": 1, "calendar": evenings}]}
    assert run(tmp_path, job).returncode == 0
    result = json.loads((tmp_path / "result.json").read_text())
    at = {t["id"]: t["start"] for t in result["tasks"]}
    assert at["coat"] >= 1440
    assert at["sand"] in (30, 31, 32) or at["sand"] >= 1440
    assert result["makespan"] == 1440 + 20


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"start": "tomorrow"}, "start: 'tomorrow'"),
        ({"due": "2027-03-01T18:00+01:00"}, "time zone"),
        (
            {
                "resources": [
                    {"id": "maker", "calendar": [["2027-03-01T18:00:30", "2027-03-01T19:00"]]}
                ]
            },
            "whole minutes",
        ),
        ({"tasks": [{"id": "a", "minutes": 1.5}]}, "whole number"),
        (
            {"follows": [{"task": "coat", "after": "join"}, {"task": "join", "after": "coat"}]},
            "'coat'",
        ),
        ({"follows": [{"task": "coat", "after": "glue"}]}, "no task 'glue'"),
        ({"format": "ivory-quilt/lay-job"}, "format"),
    ],
)
def test_what_is_wrong_is_one_line_and_nothing_is_written(tmp_path, change, said):
    done = run(tmp_path, JOB | change)
    assert done.returncode == 2
    assert said in done.stderr
    assert done.stderr.count("\n") == 1
    assert not (tmp_path / "result.json").exists()
