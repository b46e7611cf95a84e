"""Inside, or outside, the bare art of a mark."""

from typing import Literal

from kilncore.graph.plane import Plane
from kilncore.graph.sources import Sources
from kilncore.landing.limits.base import Limit, limit
from kilncore.model.base import MarkId
from kilncore.model.units import Length, px
from kilncore.planes.coverage import Coverage

FEATHER_SIGMA, MOST_SIGMA = 1 / 3, 200  # a Gaussian looks about three sigma wide


@limit("mark", title="A mark")
class MarkLimit(Limit):
    """feather : the width of the soft edge."""

    kind: Literal["mark"] = "mark"
    mark: MarkId
    feather: Length = px(0)

    def plane(self, sources: Sources) -> Plane:
        """The coverage of the mark's art, softened."""
        sigma = sources.frame.page_length(self.feather) * FEATHER_SIGMA
        return Coverage(sources.mark(self.mark), min(max(sigma, 0), MOST_SIGMA))
