"""The science of paint and of tests: pure functions over records and arrays."""
