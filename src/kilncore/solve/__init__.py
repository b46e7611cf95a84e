"""From what is wanted to the settings that give it."""
