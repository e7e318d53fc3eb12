"""A real PostgreSQL server for tests, on a free local port, in a folder of its own.

Its programs are Debian's package `postgresql`; a server refuses to run as root, so then it runs as
the package's own user.
"""

import os
import shutil
import socket
import subprocess
from contextlib import contextmanager
from pathlib import Path

import psycopg


def programs():
    """Return the folder of the server's programs, or None where none is installed."""
    found = shutil.which("initdb")
    if found:
        return Path(found).resolve().parent
    folders = sorted(Path("/usr/lib/postgresql").glob("*/bin"))
    return folders[-1] if folders else None


@contextmanager
def server(folder):
    """Run a server in `folder`; yields a function that makes a database and tells its address."""
    bin_folder, data = programs(), folder / "data"
    as_user = {"user": "postgres", "group": "postgres"} if os.geteuid() == 0 else {}
    data.mkdir()
    if as_user:
        shutil.chown(data, "postgres", "postgres")
        for part in (folder, *folder.parents):
            if part.stat().st_uid == 0 and str(part) != "/":
                part.chmod(part.stat().st_mode | 0o011)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]

    def run(program, *arguments):
        subprocess.run(
            [bin_folder / program, "-D", data, *arguments],
            check=True,
            stdout=subprocess.DEVNULL,
            cwd="/",
            **as_user,
        )

    run("initdb", "-A", "trust", "-U", "quilt", "--no-sync")
    options = f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c fsync=off"
    run("pg_ctl", "-w", "-l", data / "log", "-o", options, "start")
    made = 0

    def database():
        nonlocal made
        made += 1
        base = f"postgresql://quilt@127.0.0.1:{port}"
        with psycopg.connect(f"{base}/postgres", autocommit=True) as db:
            db.execute(f"CREATE DATABASE shop{made}")
        return f"{base}/shop{made}"

    try:
        yield database
    finally:
        run("pg_ctl", "-m", "immediate", "stop")
