"""Station: dry."""
