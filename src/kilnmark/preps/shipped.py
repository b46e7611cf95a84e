"""Preps that ship: ways in which most textures become usable. They are chains to begin from."""

# of a photo: a good part is seldom at its edges
FRAME = {"left": 0.2, "top": 0.2, "right": 0.8, "bottom": 0.8}
FROM_PHOTO = {
    "ink": "From a photo, nearly black and white",
    "colour": "From a photo, in colour",
}

SHIPPED = {
    "Mask from a concrete photo": (
        {"kind": "grey"},
        {"kind": "flatten"},
        {"kind": "even-contrast", "strength": 0.6},
        {"kind": "two-tone", "share": 0.15, "contrast": 0.15},
        {"kind": "specks", "way": "drop", "least_px": 3},
    ),
    "From a photo, nearly black and white": (
        {"kind": "crop", **FRAME},
        {"kind": "grey"},
        {"kind": "flatten"},
        {"kind": "two-tone", "share": 0.25, "contrast": 0.15},
        {"kind": "endless"},
    ),
    "From a photo, in colour": (
        {"kind": "crop", **FRAME},
        {"kind": "flatten"},
        {"kind": "endless"},
    ),
    "Specks only": (
        {"kind": "grey"},
        {"kind": "flatten", "width": 0.03},
        {"kind": "two-tone", "share": 0.08, "contrast": 0.1},
        {"kind": "specks", "way": "keep", "least_px": 3, "most_px": 60},
    ),
    "Big flakes": (
        {"kind": "grey"},
        {"kind": "flatten"},
        {"kind": "blur", "sigma_px": 5},
        {"kind": "two-tone", "share": 0.18, "contrast": 0.05},
        {"kind": "specks", "way": "drop", "least_px": 14},
    ),
    "Scratches only": (
        {"kind": "grey"},
        {"kind": "flatten", "width": 0.02},
        {"kind": "sharpen", "amount": 2, "radius_px": 2},
        {"kind": "two-tone", "share": 0.04, "contrast": 0.12},
        {"kind": "specks", "way": "keep", "least_px": 6, "most_px": 500},
    ),
    "Paper grain": (
        {"kind": "grey"},
        {"kind": "flatten", "width": 0.04},
        {"kind": "relief", "height_px": 3, "smooth_px": 0.8},
    ),
}


def fresh(name: str) -> list[dict]:
    """The operations of one that ships."""
    return [dict(one) for one in SHIPPED[name]]
