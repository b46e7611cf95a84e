"""Log lines that cannot be forged: what came from outside stays on its line."""

import logging


class OneLine(logging.Formatter):
    """Control characters, line ends among them, are written out, except in tracebacks."""

    def formatMessage(self, record) -> str:  # noqa: N802  the library's name
        return "".join(
            c if c.isprintable() else c.encode("unicode_escape").decode()
            for c in super().formatMessage(record)
        )
