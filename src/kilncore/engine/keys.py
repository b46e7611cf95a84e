"""Content keys: a hash over everything a result depends on, and nothing else. Ids never enter."""

import hashlib


def key_of(*parts) -> str:
    """A key of numbers, strings, and models (by their JSON)."""
    digest = hashlib.blake2b(digest_size=16)
    for part in parts:
        text = part.model_dump_json() if hasattr(part, "model_dump_json") else repr(part)
        digest.update(text.encode() + b"\0")
    return digest.hexdigest()
