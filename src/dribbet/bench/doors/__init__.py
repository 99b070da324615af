"""The three doors: Today, Shelf, Findings."""
