"""Station: mix."""
