"""Fifty marks on a piece, over HTTP: choosing them, dragging one or all, grouping; and beside it,
dragging one mark that is alone on its piece.

`python -m bench.marks URL` measures a server that is running (the demo's account).
"""

import sys

from bench.measure import median, ms, p95, say, times
from bench.release import Bench, person

COUNT, STEPS = 50, ("wear", "soften")
ACROSS = 10
SCALE = 0.7


def crowded_piece(url: str, count: int = COUNT) -> Bench:
    bench = Bench(person(url), count).start(0)
    for n in range(count):
        art = {"kind": "lettering", "text": "GULL", "font": "anton", "size": {"value": 60}}
        place = {"x": {"value": 70 + 126 * (n % ACROSS)}, "y": {"value": 80 + 150 * (n // ACROSS)}}
        add = {"op": "add_mark", "mark": {"id": f"m{n}", "art": art, "placement": place}}
        steps = [{"op": "add_step", "part": f"m{n}", "kind": kind} for kind in STEPS]
        bench.change([add, *steps])
    bench.stage("exact")
    return bench


def dragged(bench: Bench, marks: list[str], by: int, scale: float = SCALE) -> float:
    """Seconds of one draft while marks are dragged."""
    edit = {"op": "transform_marks", "marks": marks, "about": [640, 400], "by": [by, by / 2]}
    return bench.stage("draft", [edit], scale)


def report(url: str) -> None:
    alone, bench = crowded_piece(url, 1), crowded_piece(url)
    every = [f"m{n}" for n in range(COUNT)]
    base = f"/pieces/{bench.piece}/"
    one = sorted(dragged(alone, ["m0"], n) for n in range(1, 16))
    single = sorted(dragged(bench, ["m17"], n) for n in range(1, 16))
    whole = sorted(dragged(bench, every, n) for n in range(1, 16))
    say(
        "50 marks x 2 steps: a draft while one is dragged",
        ms(single[7]),
        f"p95 {ms(p95(single))}; one mark alone on its piece {ms(one[7])}",
    )
    half = sorted(dragged(bench, every, n, SCALE / 2) for n in range(1, 16))
    say(
        "50 marks: a draft while all are dragged",
        ms(whole[7]),
        f"p95 {ms(p95(whole))}; at half resolution, as the bench asks while drafts are slow, "
        f"{ms(half[7])}",
    )
    sheet = f"{base}sheet/?part=m0&step=bare&several={','.join(every)}"
    say(
        "50 marks chosen: their sheet, and the tabs with the strip",
        ms(median(lambda: bench.person.get(sheet), 7)),
        ms(median(lambda: bench.person.get(f"{base}strip/?part=m0&step=bare"), 7)),
    )
    grouped = []

    def group_and_undo() -> None:
        grouped.extend(times(lambda: bench.change([{"op": "group", "marks": every}]), 1))
        bench.told = bench.person.post(f"{base}undo/", {"version": bench.told["version"]})

    for _ in range(5):
        group_and_undo()
    say("50 marks grouped, stored and told", ms(sorted(grouped)[2]))


if __name__ == "__main__":
    report(sys.argv[1])
