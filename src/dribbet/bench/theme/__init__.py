"""Colours, type and patterns of the window. Every neutral has R = G = B; the one accent is masking tape."""
