"""Textures: reading, sampling, measuring, making."""
