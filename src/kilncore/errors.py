"""Errors of the core: the rule that was broken, then what was received."""


class KilnError(Exception):
    """A refusal that can be shown to the person working.

    message : one plain sentence, fit for the screen.
    detail : what was received, for the log and the curious.
    step, parameter : where in the document, when it is known.
    """

    def __init__(
        self, message: str, detail: str = "", step: str | None = None, parameter: str | None = None
    ):
        super().__init__(message)
        self.message, self.detail, self.step, self.parameter = message, detail, step, parameter


class UnusableFile(KilnError):
    """A file that cannot be used, and why."""


class MissingAsset(KilnError):
    """A document names a file that is not there."""


class Superseded(Exception):
    """The picture is no longer wanted: a newer one was asked for."""
