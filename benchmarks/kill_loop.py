"""Kills a writer at any moment, again and again: nothing that was told as saved may be lost, and the notebook is whole each time.

    python benchmarks/kill_loop.py [RUNS] [SEED]

Each run starts a process that weighs, photographs, corrects, sets, copies, exports and imports in turn, tells each act when it is
done, and is killed after a random time. Then the notebook is opened and checked.
"""

from __future__ import annotations

import argparse
import json
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

import numpy as np

from dribbet.notebook import open_notebook
from dribbet.notebook.verify import verify
from dribbet.records import Material, Photo, Series, Weighing

WRITER = """
import json, sys
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from dribbet.lab.plan import design, planning
from dribbet.notebook import open_notebook
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.store import new_id
from dribbet.records import Lamp, Material, Mix, Panel, Photo, Series, Stage, Weighing
from tests.made_up import CUP, material, series

folder = Path(sys.argv[1])
book = open_notebook(folder, create=True)
def told(what, **more):
    print(json.dumps({"did": what, **more}), flush=True)
if not book.all(Series):
    s = series(seed=1)
    mixes = planning.mixes(s, new_id)
    with book.transaction():
        names = {n for m in mixes for n, _ in m.plan} | {layer.material for layer in CUP}
        book.add(*[replace(material(n), id=new_id()) for n in names], s, *design.panels(s, new_id), *mixes)
mixes, panels = book.all(Mix), book.all(Panel)
n = len(book.all(Weighing))
told("ready")
other = folder.with_name("Other.dribbet")
while True:
    now = datetime.now(UTC)
    book.add(Weighing(id=f"w{n}", mix_id=mixes[n % len(mixes)].id, ingredient="water", mass_kg=0.001, at=now))
    told("weighing", id=f"w{n}")
    with book.transaction():
        digest = book.photos.keep(f"photo {n} ".encode() * 40_000, ".jpg")
        book.add(Photo(id=f"f{n}", panel_id=panels[0].id, sha256=digest, suffix=".jpg", name=f"{n}.jpg", stage=Stage.DRY, lamp=Lamp.DIFFUSE,
                       width_px=1, height_px=1, taken_at=None, added_at=now))
    told("photo", id=f"f{n}")
    foam = next(m for m in book.all(Material) if m.name == "foam")
    book.replace(replace(foam, stock_kg=n / 1e4))
    told("stock", kg=n / 1e4)
    book.put_setting("last", n)
    told("setting", value=n)
    if n % 4 == 0:
        book.keep_daily_copy(date(2026, 1, 1) + timedelta(days=n // 4))
        told("copy")
    if n % 5 == 0:
        out = folder.with_name(f"out{n % 2}.zip")
        export(book, out)
        told("export")
        target = open_notebook(other, create=True)
        import_package(out, target)
        target.close()
        told("import", weighings=n + 1)
    n += 1
"""


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("runs", type=int, nargs="?", default=300)
    words.add_argument("seed", type=int, nargs="?", default=1)
    asked = words.parse_args()
    rng = np.random.default_rng(asked.seed)
    root = Path(__file__).parents[1]
    cut_off: Counter[str] = Counter()
    told: dict[str, set[str]] = {"weighing": set(), "photo": set()}
    last: dict[str, object] = {}
    acts, lost, faults, start = 0, [], [], time.perf_counter()
    order = ["weighing", "photo", "stock", "setting", "copy", "export", "import"]
    with tempfile.TemporaryDirectory(prefix="kill-") as scratch:
        folder = Path(scratch) / "Killed.dribbet"
        for run in range(asked.runs):
            writer = subprocess.Popen(
                [sys.executable, "-c", WRITER, str(folder)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, cwd=root
            )
            assert writer.stdout is not None
            assert writer.stderr is not None
            ready = writer.stdout.readline()
            if "ready" not in ready:
                faults.append(f"run {run}: did not open again: {writer.stderr.read()[-300:]}")
                break
            time.sleep(float(rng.uniform(0.0, 0.25)))
            writer.send_signal(signal.SIGKILL)
            said = [json.loads(line) for line in writer.stdout.read().split("\n")[:-1]]
            writer.wait()
            acts += len(said)
            for act in said:
                if act["did"] in told:
                    told[act["did"]].add(act["id"])
                last[act["did"]] = act
            done = said[-1]["did"] if said else "import"
            cut_off[order[(order.index(done) + 1) % len(order)]] += 1
            book = open_notebook(folder)
            there = {"weighing": {w.id for w in book.all(Weighing)}, "photo": {p.id for p in book.all(Photo)}}
            lost += [f"run {run}: {kind} {missing}" for kind in told for missing in sorted(told[kind] - there[kind])]
            lost += [f"run {run}: the file of {p.name}" for p in book.all(Photo) if not book.photos.path_of(p).exists()]
            if book.lost_writes:
                lost.append(f"run {run}: {book.lost_writes} writes")
            if "setting" in last and book.setting("last") < last["setting"]["value"]:  # type: ignore[index]
                lost.append(f"run {run}: setting")
            foam = next(m for m in book.all(Material) if m.name == "foam")
            if "stock" in last and foam.stock_kg < last["stock"]["kg"]:  # type: ignore[index]
                lost.append(f"run {run}: stock")
            book.close()
            other = folder.with_name("Other.dribbet")
            faults += [f"run {run}: {f.sentence}" for f in verify(folder)]
            if (other / "notebook.sqlite3").exists():
                target = open_notebook(other, create=True)
                if "import" in last and len(target.all(Weighing)) < last["import"]["weighings"]:  # type: ignore[index]
                    lost.append(f"run {run}: import")
                assert len(target.all(Series)) in (0, 1)
                target.close()
                faults += [f"run {run}: other: {f.sentence}" for f in verify(other)]
            if len(faults) > 20:
                break
    seconds = time.perf_counter() - start
    print(f"{asked.runs} kills in {seconds:.0f} s, seed {asked.seed}: {acts} acts told as saved, {len(lost)} lost, {len(faults)} faults")
    print("killed during or before:", dict(cut_off.most_common()))
    print("\n".join([*lost[:20], *faults[:20]]))
    sys.exit(bool(lost or faults))


if __name__ == "__main__":
    main()
