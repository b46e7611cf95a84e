"""The rooms of the bench, each with its Python, templates, styles and scripts. From the bottom up:
a room uses only those before it, and the page puts them together.
"""

ROOMS = (
    *("changes", "stage", "hands", "drawing", "holding", "words", "strip", "sheet"),
    *("walls", "looking", "marks", "fire"),
)
