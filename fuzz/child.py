"""One round of documents, in a process of its own:
`python -m fuzz.child SEED COUNT FOLDER [planes] [small]`.

Before each is drawn it is written to FOLDER, so that what killed the process can be told; a line
for each goes to stdout.
"""

import faulthandler
import sys
from pathlib import Path

from hypothesis import HealthCheck, Phase, Verbosity, given, seed, settings
from hypothesis import strategies as st

from fuzz import documents as described
from fuzz.documents import Files, documents
from fuzz.drawing import check, views
from fuzz.planes import register
from kilncore.assets import AssetStore
from kilncore.document import dump

SMALL = 120_000  # px of a piece, where they are drawn for the tests


def main() -> int:
    faulthandler.enable()
    if "planes" in sys.argv[4:]:
        register()
    if "small" in sys.argv[4:]:
        described.MOST_PIXELS = SMALL
    number, count, folder = int(sys.argv[1]), int(sys.argv[2]), Path(sys.argv[3])
    store = AssetStore(folder / "assets")
    files = Files(store)
    last = folder / f"document-{number}.json"

    @seed(number)
    @settings(
        max_examples=count,
        deadline=None,
        database=None,
        derandomize=False,
        phases=[Phase.generate],
        verbosity=Verbosity.quiet,
        suppress_health_check=list(HealthCheck),
        report_multiple_bugs=False,
    )
    @given(st.data())
    def run(data):
        document = data.draw(documents(files))
        view = data.draw(views(document.size_px))
        last.write_text(dump(document) + "\n" + repr(view))
        check(document, view, store)
        last.unlink()
        print("drawn", flush=True)

    run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
