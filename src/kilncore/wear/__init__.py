"""Wear: a texture as a mask takes art away. Its modules, in the order in which a wear comes about:

1. `settings` is what it is told.
2. `asked` is what follows from that in its frame: sizes in px, and how its points come about.
3. `sparing` is what it spares, and how it leans to edges.
4. `tones` is how much of the mark lies under each tone of the mask: what an aim is solved from
   (`kilncore/solve/tones.py`).
5. `bridges` is where it would cut a stroke through, and leaves some of it.
6. `read` names all of these to the engine, as planes and whole-item values.
7. `mask` is how much stays of each pixel.

The step itself, with its undercoat, is `kilncore/steps/wear.py`.
"""
