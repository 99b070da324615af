"""Choosing between two panels without knowing which they are."""
