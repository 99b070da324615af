"""Two cups turn over side by side, before anything is poured."""
