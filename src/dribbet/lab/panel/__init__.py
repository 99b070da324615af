"""What becomes of the paint on a panel: film, drying, and where it stands on the line."""
