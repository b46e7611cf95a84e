"""Seeds: one number for each purpose of each step of each item, from the seeds that the document
carries.
"""

import hashlib


def seed_of(item: int, step: int, purpose: str) -> int:
    """32 bits, from hash(item seed, step seed, purpose)."""
    digest = hashlib.blake2b(f"{item} {step} {purpose}".encode(), digest_size=4)
    return int.from_bytes(digest.digest(), "little")
