"""How the reader's network is grown: draw, train, export, mark. Never imported by the application."""
