"""Artwork: what a mark can be. Each kind says how large it is and draws any part of itself as placed."""
