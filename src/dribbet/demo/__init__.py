"""The made-up studio: its story as data, and the renderer of its photographs."""
