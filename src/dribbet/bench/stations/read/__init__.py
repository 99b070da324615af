"""Station: read."""
