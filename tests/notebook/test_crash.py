"""A process killed at any moment leaves a notebook that opens and has lost at most the action it was in."""

from __future__ import annotations

import signal
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest

from dribbet.notebook import open_notebook
from dribbet.notebook.verify import verify
from dribbet.records import Photo, Weighing

WRITER = """
import sys
from datetime import UTC, datetime
from pathlib import Path
from dribbet.lab.plan import design, planning
from dribbet.notebook import open_notebook
from dribbet.records import Lamp, Photo, Stage, Weighing
from tests.made_up import ids, series

book = open_notebook(Path(sys.argv[1]), create=True)
s = series(seed=1)
panels, mixes = design.panels(s, ids("p")), planning.mixes(s, ids("m"))
if not book.all(type(s)):
    with book.transaction():
        book.add(s, *panels, *mixes)
done = len(book.all(Photo))
print("ready", done, flush=True)
while True:
    number = done
    now = datetime.now(UTC)
    if len(book.all(Weighing)) == number:  # the round that was cut off goes on where it stopped
        book.add(Weighing(id=f"w{number}", mix_id=mixes[number % len(mixes)].id, ingredient="water", mass_kg=0.001, at=now))
    data = f"photo {number} ".encode() * 40_000
    digest = book.photos.keep(data, ".jpg")
    book.add(Photo(id=f"f{number}", panel_id=panels[0].id, sha256=digest, suffix=".jpg", name=f"{number}.jpg", stage=Stage.DRY, lamp=Lamp.DIFFUSE,
                   width_px=1, height_px=1, taken_at=None, added_at=now))
    done += 1
    print("done", done, flush=True)
"""
KILLS = 20


@pytest.mark.slow
def test_killed_writer_loses_at_most_its_unfinished_action(tmp_path):
    folder = tmp_path / "Killed.dribbet"
    rng = np.random.default_rng(4)
    root = Path(__file__).parents[2]
    told = 0
    for _ in range(KILLS):
        writer = subprocess.Popen([sys.executable, "-c", WRITER, str(folder)], stdout=subprocess.PIPE, text=True, cwd=root)
        assert writer.stdout is not None
        assert writer.stdout.readline().startswith("ready"), "the notebook did not open after the last kill"
        time.sleep(float(rng.uniform(0.0, 0.12)))
        writer.send_signal(signal.SIGKILL)
        said = writer.stdout.read().split("\n")[:-1]  # whole lines only
        writer.wait()
        writer.stdout.close()
        told = max([told, *(int(line.split()[1]) for line in said)])
        book = open_notebook(folder)
        try:
            weighings, photos = book.all(Weighing), book.all(Photo)
            # Each round ends by saying so: what was said is there, and at most one more round was begun.
            assert told <= len(photos) <= len(weighings) <= told + 1
            assert [w.id for w in weighings] == [f"w{i}" for i in range(len(weighings))]
            assert all(book.photos.path_of(p).stat().st_size > 0 for p in photos)
            told = len(photos)
        finally:
            book.close()
    lost = [f.sentence for f in verify(folder) if not f.repairable or "belongs to no panel" not in f.sentence]
    assert lost == []
    assert told > KILLS, "the writer got nothing done between the kills"
