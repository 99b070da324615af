"""The eight stations: a folder each, with a page and its presenter, and nothing of another station."""
