"""Saving on real file systems and under trouble: nothing is half written or left behind."""

import errno
import os
import shutil
import stat
import subprocess
import sys

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.files import atomic
from ivory_quilt.files.atomic import (
    FileStamp,
    backup_of,
    read_bytes,
    shown_name,
    write_all,
    write_atomic,
)
from ivory_quilt.files.project_file import load_project, save_project


def names(folder):
    return sorted(p.name for p in folder.iterdir())


@pytest.fixture
def no_links(monkeypatch):
    """A file system that permits no hard link, as exFAT on a stick."""

    def refuse(*_, **__):
        raise PermissionError(errno.EPERM, "Operation not permitted")

    monkeypatch.setattr(os, "link", refuse)


def save_thrice(path):
    for name in ("first", "second", "third"):
        save_project(Project(name), path)
    assert load_project(path).name == "third"
    assert load_project(backup_of(path)).name == "second"
    assert len(names(path.parent)) == 2


def test_the_second_save_on_a_file_system_without_hard_links(tmp_path, no_links):
    save_thrice(tmp_path / "suit.ivq")


def run(*command):
    """Return what a system tool printed, or None when it is not there or fails."""
    found = shutil.which(command[0], path="/usr/sbin:/sbin:/usr/bin:/bin")
    if found is None:
        return None
    ended = subprocess.run([found, *command[1:]], capture_output=True, text=True, check=False)
    return ended.stdout if ended.returncode == 0 else None


@pytest.fixture
def stick(tmp_path):
    """A real exFAT file system, where the test may make and mount one."""
    image, mount = tmp_path / "stick.img", tmp_path / "stick"
    mount.mkdir()
    image.write_bytes(b"\0" * (8 << 20))
    if run("mkfs.exfat", str(image)) is None:
        pytest.skip("no exFAT can be made here")
    loop = (run("losetup", "-f", "--show", str(image)) or "").strip()
    if not loop:
        pytest.skip("nothing can be mounted here")
    mounted = any(run(tool, loop, str(mount)) is not None for tool in ("mount", "mount.exfat-fuse"))
    try:
        if not mounted:
            pytest.skip("no exFAT can be mounted here")
        yield mount
    finally:
        if mounted:
            run("umount", str(mount))
        run("losetup", "-d", loop)


def test_a_real_exfat_stick(stick):
    save_thrice(stick / "suit.ivq")
    with pytest.raises(OSError, match="not permitted"):
        os.link(stick / "suit.ivq", stick / "other")


@pytest.mark.parametrize("length", [240, 246, 250, 254, 255])
def test_names_as_long_as_file_systems_allow(tmp_path, length):
    save_thrice(tmp_path / ("ö" * ((length - 4) // 2) + "x" * (length % 2) + ".ivq"))


def test_a_name_that_is_too_long_is_refused(tmp_path):
    with pytest.raises(InputError, match="shorter name"):
        write_atomic(tmp_path / ("x" * 256), b"1")
    assert names(tmp_path) == []


def test_a_linked_project_stays_linked(tmp_path):
    (tmp_path / "real").mkdir()
    real, link = tmp_path / "real" / "suit.ivq", tmp_path / "suit.ivq"
    save_project(Project("first"), real)
    link.symlink_to(real)
    save_project(Project("second"), link)
    assert link.is_symlink()
    assert load_project(real).name == "second"
    assert load_project(backup_of(real)).name == "first"
    assert names(tmp_path) == ["real", "suit.ivq"]


@pytest.mark.parametrize("mask", [0o022, 0o077, 0o002])
def test_new_files_have_the_rights_that_the_makers_umask_leaves(tmp_path, mask):
    before = os.umask(mask)
    try:
        write_atomic(tmp_path / "new", b"1")
    finally:
        os.umask(before)
    assert stat.S_IMODE((tmp_path / "new").stat().st_mode) == 0o666 & ~mask


def test_the_folder_is_forced_to_the_disk_after_the_file(tmp_path, monkeypatch):
    synced = []
    real = os.fsync

    def fsync(handle):
        synced.append(stat.S_ISDIR(os.fstat(handle).st_mode))
        real(handle)

    monkeypatch.setattr(os, "fsync", fsync)
    write_atomic(tmp_path / "one", b"1")
    assert synced == [False, True]


def test_several_files_come_all_or_none(tmp_path, monkeypatch):
    for name in "abc":
        (tmp_path / name).write_text("old")
    real = os.open

    def full(path, flags, *rest):
        if str(path).endswith("-3.tmp"):
            raise OSError(errno.ENOSPC, "No space left on device")
        return real(path, flags, *rest)

    monkeypatch.setattr(atomic, "_numbers", iter(range(1, 99)))
    monkeypatch.setattr(os, "open", full)
    with pytest.raises(InputError, match=r"No space left on device.*space on the disk"):
        write_all({tmp_path / name: b"new" for name in "abc"})
    assert [(tmp_path / n).read_text() for n in "abc"] == ["old"] * 3
    assert names(tmp_path) == ["a", "b", "c"]


KILLED = """
import os, signal, sys
from pathlib import Path
from ivory_quilt.files.atomic import write_atomic
def end(*_):
    os.kill(os.getpid(), signal.SIGKILL)
{}
write_atomic(Path(sys.argv[1]), b"new", backup=True)
"""


@pytest.mark.parametrize(
    "moment",
    ["os.fsync = end", "os.link = end", "Path.replace = end", "os.fdopen = end"],
)
def test_killed_at_any_moment_there_is_a_good_file_and_its_backup(tmp_path, moment):
    path = tmp_path / "suit"
    write_atomic(path, b"older", backup=True)
    write_atomic(path, b"old", backup=True)
    ended = subprocess.run([sys.executable, "-c", KILLED.format(moment), str(path)], check=False)
    assert ended.returncode == -9
    assert path.read_bytes() in (b"old", b"new")
    assert backup_of(path).read_bytes() in (b"older", b"old")
    # What the killed process left goes with the next save.
    write_atomic(path, b"next", backup=True)
    assert names(tmp_path) == ["suit", "suit~"]


def test_what_another_machine_is_writing_is_left_alone(tmp_path):
    other = tmp_path / ".ivory-quilt-elsewhere-1-1.tmp"
    other.write_text("half")
    write_atomic(tmp_path / "a", b"1")
    assert other.exists()
    os.utime(other, (0, 0))
    write_atomic(tmp_path / "a", b"1")
    assert not other.exists()


def test_a_stamp_tells_of_every_change(tmp_path):
    path = tmp_path / "a"
    assert FileStamp.of(path) is None
    write_atomic(path, b"1")
    first = FileStamp.of(path)
    assert FileStamp.of(path) == first
    write_atomic(path, b"2")
    assert FileStamp.of(path) != first


def test_names_that_are_no_text_can_be_shown_and_saved(tmp_path):
    path = tmp_path / os.fsdecode(b"\xff\xfe\x1b[31m.ivq")
    save_project(Project("suit"), path)
    assert load_project(path).name == "suit"
    assert shown_name(path.name) == "\ufffd\ufffd [31m.ivq"
    odd = Project(f"from {path.name}")  # its name came from the file's
    save_project(odd, path)
    assert load_project(path).name.startswith("from ?")


def test_what_never_ends_is_not_read(tmp_path):
    os.mkfifo(tmp_path / "pipe")
    with pytest.raises(InputError, match="no ordinary file"):
        read_bytes(tmp_path / "pipe")
