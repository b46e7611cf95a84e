"""Readings: measured facts about textures and pieces."""
