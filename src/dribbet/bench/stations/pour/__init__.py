"""Station: pour."""
