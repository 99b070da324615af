"""Dribbet: controlled test pours with fluid acrylics, from a question to a verdict."""

__version__ = "0.1.0"
