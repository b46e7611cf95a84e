"""The demo's textures: name, maker, width and height in px, seed, settings. Those that are grounds
are as large as their pieces, so that none shows a repeat.
"""

TEXTURES = [
    ("Cabin foil", "foil", (1280, 1024), 21, {"size_px": 520.0, "crumpled": 0.25, "pastel": 0.2}),
    ("Cabin card", "card", (1664, 1024), 4, {}),
    (
        "Dot field",
        "dotgrid",
        (1200, 640),
        17,
        {"pitch_px": 9.0, "dot": 0.62, "pushed": 0.3, "swells": 0.15},
    ),
    ("Shed rust", "rust", (1536, 1536), 14, {"spread": 0.55, "patch_px": 170.0}),
    ("Galley enamel", "enamel", (1536, 1536), 8, {"glaze": "blue", "chips": 0.18}),
    (
        "Hull side, painted",
        "flaking",
        (2464, 1568),
        31,
        {"paint": "hull", "gone": 0.05, "flake_px": 44.0, "curl": 0.35, "stain": 0.3},
    ),
    ("Brush, half dry", "drybrush", (1536, 1536), 6, {}),
    (
        "Deck paint, rubbed",
        "grunge",
        (2048, 2048),
        41,
        {"amount": 0.62, "patches": 0.55, "specks": 0.55, "scratches": 0.35},
    ),
    (
        "Mailbag specks",
        "grunge",
        (1536, 1536),
        7,
        {"amount": 0.2, "patches": 0.2, "specks": 0.85, "scratches": 0.1},
    ),
    ("Quay planks", "planks", (2432, 2048), 11, {"board_px": 256, "weather": 0.55}),
    (
        "Crate boards",
        "planks",
        (2048, 2176),
        23,
        {"board_px": 400, "weather": 0.15, "tone": 0.55, "knots": 0.3},
    ),
    ("Quay wall", "concrete", (2048, 2048), 5, {"pinholes": 0.5, "cracks": 0.6}),
    ("Quay stone", "stone", (2048, 2048), 12, {"course_px": 260.0, "moss": 0.2}),
    ("Ticket buff", "laid", (2144, 1280), 9, {"stock": "ticket", "wires": 0.12, "fibres": 0.8}),
    ("Ticket stock", "paper", (3008, 2080), 3, {"warmth": 0.45, "tooth": 0.5, "age": 0.4}),
]
