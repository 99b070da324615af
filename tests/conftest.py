"""Shared by all tests: an offscreen window system unless a test asks for a real one."""

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
