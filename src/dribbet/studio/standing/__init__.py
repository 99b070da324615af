"""What is so, as frozen facts: enums, numbers, ids."""
