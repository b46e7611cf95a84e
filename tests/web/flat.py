"""Pages as they are read: where a template breaks its lines does not count."""

import re


def flat(response) -> str:
    """A page in one line, with one space where there was any white space."""
    return re.sub(r"\s+", " ", response.content.decode())
