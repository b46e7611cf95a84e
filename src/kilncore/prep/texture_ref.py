"""A texture as a document names it: the file, and how it is prepared for this use."""

from typing import Any, Literal

from pydantic import Field, SerializationInfo, model_serializer

from kilncore.model.base import Model
from kilncore.model.files import TextureHash
from kilncore.model.meaning import is_meaning
from kilncore.prep.chain import TextureChain, makes_seamless, meaning


class TextureRef(Model):
    """A texture by content. edges : what lies beyond it: the texture again, its mirror image, or
    nothing. chain : the operations that prepare it, resolved, so that nobody changes it from
    elsewhere. prep : the id of the prep on the shelf that the chain came from, which is lineage
    only.
    """

    hash: TextureHash
    edges: Literal["repeat", "mirror", "none"] = "repeat"
    chain: TextureChain = ()
    prep: str = Field("", max_length=40, pattern=r"^[0-9a-f-]*$")

    @property
    def wraps(self) -> bool:
        """Whether the file repeats as it is, so that what is done near an edge reads the opposite
        one: not where its chain has to make it repeat first.
        """
        return self.edges == "repeat" and not makes_seamless(self.chain)

    @model_serializer(mode="wrap")
    def _told(self, dump: Any, info: SerializationInfo) -> dict:
        data = dump(self)
        if is_meaning(info.context):
            data["chain"] = meaning(self.chain)
            del data["prep"]
            data["level"] = getattr(self, "level", 0)
        return data


class DraftRef(TextureRef):
    """One that is drawn from a copy halved `level` times, while it is not ready at its full
    size.
    """

    level: int = 0
