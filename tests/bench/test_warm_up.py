"""What takes long the first time is brought beside the window, before a page asks for it."""

import subprocess
import sys

LONG = ("skimage.color", "cv2", "scipy.optimize", "dribbet.paper.report")


def test_what_takes_long_to_import_is_there_before_a_page_asks_for_it():
    code = (
        "import sys, threading; from dribbet.bench import application, apart; apart.ready = lambda: None; "
        "assert 'skimage.color' not in sys.modules; application.warm_up(); "
        "[t.join() for t in threading.enumerate() if t.name == 'warm-up']; "
        f"print([name in sys.modules for name in {LONG!r}])"
    )
    ended = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120, check=True)
    assert ended.stdout.strip() == str([True] * len(LONG))
