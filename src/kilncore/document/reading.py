"""Documents read and written as JSON, of this format or an older one."""

from pydantic import (
    ValidationError,
)
from pydantic_core import from_json

from kilncore.document.piece import SAME_PARTS, Piece
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.model.faults import fault_words
from kilncore.upgrades import UPGRADES

FORMAT = 8
MAX_BYTES = 2_000_000  # of a document as it is stored


def load(
    data: str | bytes | dict, assets: Assets | None = None, *, same_parts: bool = False
) -> Piece:
    """A piece from its JSON, of this format or an older one.

    Parameters
    ----------
    data : str, bytes or dict
        As JSON, or as it was parsed; 2 MB at most.
    assets : Assets, optional
        Where an upgrade keeps what older documents held within themselves.
    same_parts : bool
        Its marks, steps and limits are those of a piece that was read before, and fit together.

    Returns
    -------
    Piece
        Checked whole.

    Raises
    ------
    KilnError
        What is wrong, and where.
    """
    try:
        tree = data if isinstance(data, dict) else from_json(data, allow_inf_nan=False)
    except (ValueError, RecursionError) as error:
        raise KilnError("This is not a piece: it cannot be read as JSON.", str(error)) from error
    if not isinstance(tree, dict) or type(tree.get("format")) is not int or tree["format"] < 1:
        raise KilnError("This is not a piece: it has no format number.")
    if tree["format"] > FORMAT:
        raise KilnError(
            f"This piece was made by a newer Kilnmark (format {str(tree['format'])[:20]}); "
            f"this one reads up to {FORMAT}."
        )
    try:
        for version in range(tree["format"], FORMAT):
            tree = UPGRADES[version](tree, assets)
        return Piece.model_validate(tree, context=SAME_PARTS if same_parts else None)
    except ValidationError as error:
        raise KilnError(*_first_fault(error)) from error
    except (RecursionError, TypeError, AttributeError, OverflowError) as error:
        raise KilnError(
            "This is not a piece: it is not put together as one.", str(error)[:200]
        ) from error


def dump(piece: Piece) -> str:
    """The JSON of a piece.

    Parameters
    ----------
    piece : Piece
        Any.

    Returns
    -------
    str
        Of this format, 2 MB at most.

    Raises
    ------
    KilnError
        If it is larger than a document may be.
    """
    text = piece.model_dump_json()
    if len(text) > MAX_BYTES:
        raise KilnError(
            f"This piece has become too large to store: {MAX_BYTES // 10**6} MB is the most. "
            "Take out marks or steps, or start a new piece."
        )
    return text


def _first_fault(error: ValidationError) -> tuple[str, str]:
    """(message, detail): the first broken rule in words, and where with what was received."""
    fault = error.errors()[0]
    where = ".".join(str(part) for part in fault["loc"])
    message = f"The change was refused: {fault_words(error)}."[:400]
    return message, f"{where}: {fault.get('input')!r}"[:300]
