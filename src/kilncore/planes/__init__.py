"""The planes, one module each: coverage, distances, labels, statistics, strokes, fades, regions,
colour areas.

Steps and landings make them from what lies around them (`graph.sources`) and name them; the engine
draws them as it draws pictures. A new one is a module: whoever uses it imports it.
"""
