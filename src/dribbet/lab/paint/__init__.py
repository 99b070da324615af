"""What is known of a paint and of any container: flow, density, cost, and what the notebook has taught."""
