"""Station: check."""
