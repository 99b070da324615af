"""What a cup holds, what it should hold, and how the two are brought together."""
