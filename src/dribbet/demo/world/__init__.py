"""Many worlds of dried paint with the exact truth of each: what teaches the reader, and what it is held against.

Each file is one mechanism: how films lie and are stirred, how cells grow and compete, how lacing hangs and fans, how a film
breaks, what lies beneath it, what settles on it, and how a camera sees it. Lengths in millimetres, light is linear 0..1.
"""
