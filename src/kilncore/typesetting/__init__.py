"""Setting type: the fonts that are shipped, shaping, outlines."""
