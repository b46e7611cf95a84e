"""`make fuzz`: random documents, killed servers and broken files, for half an hour. Says what was
drawn and what broke.

python -m fuzz [MINUTES]      python -m fuzz documents|files|kills [MINUTES]
"""

import resource
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROUND, AT_ONCE = 15, 2
MINUTES = 30
ROUND_SECONDS = 900  # of the processors; on a busy machine that takes longer
PATIENCE = 6  # times as long until a round that hangs is given up
KINDS = ("fuzz.files", "fuzz.fonts", "fuzz.strokes")


def documents(minutes: float, first_seed: int | None = None) -> int:
    """How many rounds failed. Two children at a time, each with seeds of its own."""
    begun, drawn, failed = time.monotonic(), 0, 0
    number = int(time.time()) if first_seed is None else first_seed
    folder = Path(tempfile.mkdtemp(prefix="kilnmark-fuzz-"))
    with ThreadPoolExecutor(AT_ONCE) as children:
        while time.monotonic() - begun < minutes * 60:
            seeds = range(number, number + AT_ONCE)
            for seed, (found, trouble) in zip(
                seeds,
                children.map(lambda seed: one_round(seed, ROUND, folder, "planes"), seeds),
                strict=True,
            ):
                drawn, failed = drawn + found, failed + bool(trouble)
                if trouble:
                    print(
                        f"seed {seed}: {trouble}\nthe document is {folder}/document-{seed}.json",
                        flush=True,
                    )
            number += AT_ONCE
    print(
        f"{drawn} documents drawn in {(time.monotonic() - begun) / 60:.0f} min, {failed} "
        "rounds failed",
        flush=True,
    )
    return failed


def files(minutes: float) -> int:
    """How many rounds of broken files failed."""
    begun, failed, number, told = time.monotonic(), 0, int(time.time()), ""
    while time.monotonic() - begun < minutes * 60:
        module = KINDS[number % len(KINDS)]
        command = [sys.executable, "-m", module, str(number), "40"]
        done = subprocess.run(command, capture_output=True, text=True, check=False)
        told += done.stdout
        if done.returncode:
            failed += 1
            print(f"{module}, seed {number}: {done.stderr[-2000:]}", flush=True)
        number += 1
    taken = told.count(": taken in") + told.count(": set") + told.count(": too much")
    print(f"{taken + told.count(': refused')} broken files, {taken} of them could still be shown")
    return failed


def one_round(number: int, count: int, folder: Path, *more: str) -> tuple[int, str]:
    """(documents drawn, what went wrong). more : 'planes', with steps of the fuzzer's own;
    'small', pieces that are drawn soon.
    """
    command = [sys.executable, "-m", "fuzz.child", str(number), str(count), str(folder), *more]
    try:
        done = subprocess.run(
            command,
            capture_output=True,
            text=True,
            timeout=PATIENCE * ROUND_SECONDS,
            check=False,
            preexec_fn=_bounded,
        )
    except subprocess.TimeoutExpired as error:
        return (error.stdout or b"").count(b"drawn\n"), "it took too long"
    drawn = done.stdout.count("drawn\n")
    if done.returncode in (-signal.SIGXCPU, -signal.SIGKILL):
        return drawn, f"it took {ROUND_SECONDS} s of the processors"
    return drawn, done.stderr[-3000:] if done.returncode else ""


def _bounded() -> None:
    resource.setrlimit(resource.RLIMIT_CPU, (ROUND_SECONDS, ROUND_SECONDS + 5))


def main() -> int:
    from fuzz import killing

    what = sys.argv[1] if len(sys.argv) > 1 and not sys.argv[1][0].isdigit() else "all"
    minutes = float(next((a for a in sys.argv[1:] if a[0].isdigit()), MINUTES))
    failed = 0
    if what in ("all", "documents"):
        failed += documents(minutes * (0.6 if what == "all" else 1))
    if what in ("all", "files"):
        failed += files(minutes * (0.2 if what == "all" else 1))
    if what in ("all", "kills"):
        failed += killing.kills(minutes * (0.2 if what == "all" else 1))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
