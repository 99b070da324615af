"""Door: shelf."""
