"""Output formats. A new one is a module and its line in WRITERS: format -> writer(pixels, path, ppi)."""

from kilncore.output import png

WRITERS = {"png": png.write}
