"""Looking at many panels at one scale."""
