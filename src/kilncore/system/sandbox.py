"""Work on files from outside, done in a child process that is limited in memory, time and files,
and killed without harm.

`run` starts a module of the core as a child, gives it a request and bytes, and takes its answer.
The child calls `answer`, which limits the process before anything is read. Only a few children run
at once.
"""

import json
import os
import resource
import struct
import subprocess
import sys
import threading
from collections.abc import Callable
from dataclasses import dataclass

from kilncore.errors import UnusableFile
from kilncore.system.hardware import PROCESSORS

AT_ONCE = threading.BoundedSemaphore(max(2, PROCESSORS // 2))
LARGEST_ANSWER = 2**30


@dataclass(frozen=True)
class Limits:
    """memory : bytes of address space. cpu : seconds of the processor. wall : seconds by the clock,
    waiting not counted. written : bytes of a file that it may write.
    """

    memory: int
    cpu: int
    wall: float
    written: int = 0


def run(
    module: str,
    limits: Limits,
    request: dict,
    data: bytes,
    too_much: str,
    turns: threading.Semaphore = AT_ONCE,
) -> tuple[dict, bytes]:
    """(answer, bytes) of a child. UnusableFile with the child's own words, or with `too_much` if it
    was stopped or broke.
    """
    told = json.dumps({**request, "limits": [limits.memory, limits.cpu, limits.written]}).encode()
    message = struct.pack("<I", len(told)) + told + data
    env = {
        **os.environ,
        "VIPS_CONCURRENCY": "1",
        "OPENBLAS_NUM_THREADS": "1",
        "OMP_NUM_THREADS": "1",
        "MALLOC_ARENA_MAX": "2",
    }
    with turns:
        try:
            done = subprocess.run(
                [sys.executable, "-m", module],
                input=message,
                capture_output=True,
                timeout=limits.wall,
                check=False,
                env=env,
            )
        except subprocess.TimeoutExpired:
            raise UnusableFile(too_much) from None
    if done.returncode or len(done.stdout) < 4:
        raise UnusableFile(too_much)
    (length,) = struct.unpack("<I", done.stdout[:4])
    answer = json.loads(done.stdout[4 : 4 + length])
    if "refused" in answer:
        raise UnusableFile(answer["refused"])
    return answer, done.stdout[4 + length :]


def answer(work: Callable) -> None:
    """In the child: limit it, read what is asked, answer work(request, data), a dict and bytes."""
    data = sys.stdin.buffer.read()
    (length,) = struct.unpack("<I", data[:4])
    request = json.loads(data[4 : 4 + length])
    _limit(*request.pop("limits"))
    try:
        told, content = work(request, data[4 + length :])
    except UnusableFile as error:
        told, content = {"refused": error.message}, b""
    told = json.dumps(told).encode()
    sys.stdout.buffer.write(struct.pack("<I", len(told)) + told)
    sys.stdout.buffer.write(content)
    sys.stdout.buffer.flush()
    os._exit(0)  # nothing is left to tidy up, and libraries take their time over it


def _limit(memory: int, cpu: int, written: int) -> None:
    for kind, most in (
        (resource.RLIMIT_AS, memory),
        (resource.RLIMIT_CPU, cpu),
        (resource.RLIMIT_FSIZE, written),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(kind, (most, most))
