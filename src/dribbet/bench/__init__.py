"""The window: eight stations on one run line, three doors, drawn parts."""
