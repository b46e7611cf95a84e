"""The operations of programs. A new module of them is a file and its line here."""

from kilncore.compiled.operations import flow  # noqa: F401  isort: skip
from kilncore.compiled.operations import memory  # noqa: F401  isort: skip
from kilncore.compiled.operations import arithmetic  # noqa: F401  isort: skip
from kilncore.compiled.operations import ranges  # noqa: F401  isort: skip
from kilncore.compiled.operations import coordinates  # noqa: F401  isort: skip
from kilncore.compiled.operations import blend  # noqa: F401  isort: skip
from kilncore.compiled.operations import non_separable  # noqa: F401  isort: skip
from kilncore.compiled.operations import noise  # noqa: F401  isort: skip
