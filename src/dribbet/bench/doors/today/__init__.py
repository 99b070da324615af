"""Door: today."""
