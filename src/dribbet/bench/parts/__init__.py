"""Drawn widgets, one per part: each paints from a plain state and holds no rules."""
