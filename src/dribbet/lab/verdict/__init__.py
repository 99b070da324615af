"""What the panels of a test say."""
