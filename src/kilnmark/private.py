"""Pictures that only their owner's browser may keep."""

from django.http import HttpResponse


def kept_by_key(content: bytes, media_type: str, fresh: bool = True) -> HttpResponse:
    """A picture under a key: kept for good if the key is that of the picture, not at all
    otherwise.
    """
    response = HttpResponse(content, content_type=media_type)
    response["Cache-Control"] = "private, max-age=31536000, immutable" if fresh else "no-store"
    return response
