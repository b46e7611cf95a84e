"""Content keys: a hash over everything a result depends on, and nothing else. Ids never enter.

The code is part of what a result depends on. VERSION stands for it: a hash of the core's own files,
fonts included, and of the libraries that draw. After an upgrade every key is another, so that
nothing old is ever shown.
"""

import hashlib
from typing import Any

from kilncore.model.meaning import MEANING
from kilncore.system.code_version import VERSION


def key_of(*parts: Any) -> str:
    """A key of numbers, strings, and models, by what of them counts for a picture."""
    digest = hashlib.blake2b(VERSION.encode(), digest_size=16)
    for part in parts:
        is_model = hasattr(part, "model_dump_json")
        text = part.model_dump_json(context=MEANING) if is_model else repr(part)
        digest.update(text.encode() + b"\0")
    return digest.hexdigest()
