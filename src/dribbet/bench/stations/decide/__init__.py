"""Station: decide."""
