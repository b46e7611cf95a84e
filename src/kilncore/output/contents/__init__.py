"""What is drawn into a file. A new one is a module and its line here."""

from kilncore.output.contents import piece  # noqa: F401  isort: skip
from kilncore.output.contents import marks  # noqa: F401  isort: skip
from kilncore.output.contents.base import CONTENTS, Content, Picture

__all__ = ["CONTENTS", "Content", "Picture"]
