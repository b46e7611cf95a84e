"""The demo's textures: name, maker, size in px, seed, settings."""

TEXTURES = [
    (
        "Deck paint, rubbed",
        "grunge",
        2048,
        41,
        {"amount": 0.62, "patches": 0.55, "specks": 0.55, "scratches": 0.35},
    ),
    (
        "Mailbag specks",
        "grunge",
        1536,
        7,
        {"amount": 0.2, "patches": 0.2, "specks": 0.85, "scratches": 0.1},
    ),
    ("Quay planks", "planks", 2048, 11, {"board_px": 256, "weather": 0.55}),
    (
        "Crate boards",
        "planks",
        2048,
        23,
        {"board_px": 400, "weather": 0.15, "tone": 0.55, "knots": 0.3},
    ),
    ("Quay wall", "concrete", 2048, 5, {"pinholes": 0.5, "cracks": 0.6}),
    ("Ticket stock", "paper", 1536, 3, {"warmth": 0.45, "tooth": 0.5, "age": 0.4}),
]
