"""Station: ask."""
