"""The working model of one artist's studio, without a window and without words."""
