"""Planes and cylinders seen in perspective: where a flat page comes to lie, and the way back."""
