"""Boxes and maps: where things lie, in numbers alone."""
