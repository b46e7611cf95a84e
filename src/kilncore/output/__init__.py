"""Output formats. A new one is a module and its line in WRITERS: format -> a class like PngWriter."""

from kilncore.output.png import PngWriter

WRITERS = {"png": PngWriter}
