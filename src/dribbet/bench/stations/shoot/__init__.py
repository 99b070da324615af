"""Station: shoot."""
