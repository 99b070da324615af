"""Door: findings."""
