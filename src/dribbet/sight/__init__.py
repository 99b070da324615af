"""Photographs to measurements, in millimetres of the rectified panel. Arrays in, records out."""

READER: str = "sight-18"
"""Version of the reader; stored with every result."""
