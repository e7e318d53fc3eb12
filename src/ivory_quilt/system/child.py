"""A process of our own at work for this one: begun with a pipe, ended with us.

Spawned, never forked: it begins as a fresh interpreter and shares nothing but the pipe.
"""

import ctypes
import os
import resource
import signal
import subprocess
import sys
from multiprocessing.connection import Connection, Pipe
from pathlib import Path
from typing import IO

PARENT_DEATH = 1  # PR_SET_PDEATHSIG of Linux's prctl: end with the thread that began us
DEVNULL = subprocess.DEVNULL


def spawn(
    module: str, memory: int, *, errors: int | IO[bytes] = DEVNULL
) -> tuple[subprocess.Popen[bytes], Connection]:
    """Begin `module` as a process; return it and our end of its pipe.

    The module takes up its own end with `take_up_work`. Numeric libraries get one thread each:
    who wants more of them begins more processes.

    Args:
        module: name of a module that runs as a program.
        memory: bytes that it may take.
        errors: where its standard error goes.
    """
    ours, theirs = Pipe()
    process = subprocess.Popen(
        [sys.executable, "-m", module, str(theirs.fileno()), str(memory), str(os.getpid())],
        pass_fds=[theirs.fileno()],
        stdin=DEVNULL,
        stdout=DEVNULL,
        stderr=errors,
        env=os.environ | {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"},
    )
    theirs.close()
    return process, ours


def take_up_work() -> Connection:
    """Return the pipe to whoever began this process, within the limits that were given.

    Ends the process when that one is gone already.
    """
    handle, memory, parent = map(int, sys.argv[1:4])
    ctypes.CDLL(None).prctl(PARENT_DEATH, signal.SIGKILL)
    if os.getppid() != parent:
        raise SystemExit
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # whoever asked stops us
    return Connection(handle)


def peak_memory() -> int:
    """Return the most bytes of memory held so far.

    Not getrusage's figure: that one begins at what the parent held when it began this process.
    """
    lines = Path("/proc/self/status").read_text(encoding="ascii").splitlines()
    line = next(line for line in lines if line.startswith("VmHWM:"))
    return int(line.split()[1]) * 1024
