"""Throws damaged and hostile files at everything that reads one: photos, packages, runs tables, recipes and cups, databases.

    python benchmarks/fuzz.py [CASES] [SEED]

Each case must end in a result or in one sentence, within its time, without a trace left behind. Cases are shared out evenly over the
kinds; the same seed makes the same files. What fails is written to the folder `fuzz-found`.
"""

from __future__ import annotations

import argparse
import contextlib
import csv
import hashlib
import io
import json
import os
import resource
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
import zipfile
from collections import Counter
from datetime import date
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PIL import Image

from dribbet.cli import main as command
from dribbet.demo.build import build_notebook
from dribbet.notebook import open_notebook
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.repair import repair
from dribbet.notebook.verify import verify
from dribbet.records import DribbetError
from dribbet.sight.load import load

LONGEST_S = 30
SIGNS = [
    "nan",
    "inf",
    "-1",
    "1e308",
    "",
    "0",
    "x" * 300,
    "\\N",
    "null",
    "[]",
    "{}",
    "true",
    '"',
    "'; DROP TABLE series; --",
    "../../x",
    "٣",
    "1,2",
    "\x00",
    "é\n",
]


class Hung(BaseException):
    """A case that did not end in time."""


def ring(*_: object) -> None:
    raise Hung


class Fuzzer:
    """Makes cases from whole files and feeds them to their readers."""

    def __init__(self, scratch: Path, seed: int) -> None:
        self.scratch, self.rng = scratch, np.random.default_rng(seed)
        self.demo = scratch / "Demo.dribbet"
        build_notebook(self.demo)
        book = open_notebook(self.demo)
        book.keep_daily_copy(date(2026, 11, 26))
        export(book, scratch / "demo.zip")
        book.close()
        self.small = scratch / "Small.dribbet"
        self._without_photos()
        self.pictures = self._pictures()
        with zipfile.ZipFile(scratch / "small.zip") as package:
            self.content = {n: package.read(n) for n in package.namelist()}
        self.database = (self.small / "notebook.sqlite3").read_bytes()

    def _without_photos(self) -> None:
        """A small notebook and its package: what is damaged lies in the tables, not in megabytes of photographs."""
        with zipfile.ZipFile(self.scratch / "demo.zip") as source, zipfile.ZipFile(self.scratch / "small.zip", "w") as out:
            small = {Path(n).stem: n.encode() for n in source.namelist() if n.startswith("photos/")}
            digests = {old: hashlib.sha256(data).hexdigest() for old, data in small.items()}
            for old, data in small.items():
                out.writestr(f"photos/{digests[old][:2]}/{digests[old]}.jpg", data)
            for name in (n for n in source.namelist() if not n.startswith("photos/")):
                text = source.read(name).decode()
                for old, new in digests.items() if name in ("datapackage.json", "tables/photo.csv") else ():
                    text = text.replace(f"{old[:2]}/{old}", f"{new[:2]}/{new}").replace(old, new)
                out.writestr(name, text)
        book = open_notebook(self.small, create=True)
        import_package(self.scratch / "small.zip", book)
        book.close()

    def _pictures(self) -> dict[str, bytes]:
        picture = Image.fromarray(self.rng.integers(0, 255, (200, 260, 3)).astype(np.uint8)).resize((520, 400))
        exif = Image.Exif()
        exif[274] = 6
        exif.get_ifd(0x8769)[36867] = "2026:11:19 14:20:00"
        made = {}
        for suffix, kind, mode in (
            (".jpg", "JPEG", "RGB"),
            (".png", "PNG", "RGBA"),
            (".tif", "TIFF", "RGB"),
            (".webp", "WEBP", "RGB"),
            (".png", "PNG", "P"),
        ):
            out = io.BytesIO()
            picture.convert(mode).save(out, kind, exif=exif)
            made[f"{mode}{suffix}"] = out.getvalue()
        return made

    def spoiled(self, data: bytes) -> bytes:
        """Bytes with some flipped, cut, doubled, zeroed or put elsewhere."""
        rng, out = self.rng, bytearray(data)
        for _ in range(int(rng.integers(1, 6))):
            at, size = int(rng.integers(0, max(len(out), 1))), int(rng.integers(1, 64))
            how = int(rng.integers(0, 6))
            if how == 0 and out:
                for _ in range(int(rng.integers(1, 12))):
                    out[int(rng.integers(0, len(out)))] = int(rng.integers(0, 256))
            elif how == 1:
                del out[at:]
            elif how == 2:
                out[at:at] = out[at : at + size]
            elif how == 3:
                out[at : at + size] = bytes(min(size, len(out) - at))
            elif how == 4:
                out[at : at + size] = rng.integers(0, 256, size).astype(np.uint8).tobytes()
            else:
                head = int(rng.integers(0, min(len(out), 64) or 1))
                out[head : head + 1] = bytes([int(rng.integers(0, 256))])
        return bytes(out)

    def sign(self) -> str:
        """A value that nobody expects in a cell."""
        return str(SIGNS[int(self.rng.integers(len(SIGNS)))])

    # ------------------------------------------------------------ kinds

    def photo(self, path: Path) -> None:
        """A photograph with damaged bytes."""
        names = list(self.pictures)
        name = names[int(self.rng.integers(len(names)))]
        path = path.with_suffix(Path(name).suffix)
        path.write_bytes(self.spoiled(self.pictures[name]))
        load(path)

    def package(self, path: Path) -> None:
        """A package with damaged bytes, or with one false cell in a whole one."""
        path = path.with_suffix(".zip")
        if self.rng.random() < 0.4:
            path.write_bytes(self.spoiled((self.scratch / "small.zip").read_bytes()))
        else:
            content = dict(self.content)
            names = [n for n in content if n.endswith((".csv", ".json"))]
            name = names[int(self.rng.integers(len(names)))]
            if name.endswith(".csv"):
                rows = list(csv.reader(io.StringIO(content[name].decode())))
                if len(rows) > 1:
                    row = int(self.rng.integers(0, len(rows)))
                    rows[row][int(self.rng.integers(0, len(rows[row])))] = self.sign()
                out = io.StringIO()
                csv.writer(out, lineterminator="\n").writerows(rows)
                content[name] = out.getvalue().encode("utf-8", "surrogatepass")
            else:
                content[name] = self.spoiled(content[name])
            with zipfile.ZipFile(path, "w") as out_zip:
                for n, data in content.items():
                    out_zip.writestr(n, data)
        folder = path.with_suffix(".dribbet")
        book = open_notebook(folder, create=True)
        try:
            import_package(path, book)
        finally:
            book.close()
            faults = verify(folder)
            assert not faults, f"what was taken is not whole: {faults[0].sentence}"

    def runs(self, path: Path) -> None:
        """A runs table with odd cells, quotes and encodings."""
        rng = self.rng
        rows = [["water", "kind", "cracks"], *[[str(10 + i % 3), "ab"[i % 2], f"{rng.normal(30, 8):.1f}"] for i in range(12)]]
        for _ in range(int(rng.integers(0, 4))):
            row = rows[int(rng.integers(len(rows)))]
            row[int(rng.integers(3))] = self.sign()
        text = "\n".join(",".join(r) for r in rows)
        if rng.random() < 0.2:
            text = text.replace(",", ',"', 1)
        data = text.encode(str(rng.choice(["utf-8", "utf-16", "cp1252"])), "replace")
        path.with_suffix(".csv").write_bytes(self.spoiled(data) if rng.random() < 0.4 else data)
        self._command(
            "effects", str(path.with_suffix(".csv")), "--response", "cracks", "--factors", str(rng.choice(["water", "water,kind", "water,water"]))
        )

    def recipe(self, path: Path) -> None:
        """A recipe or a cup with odd values, deep nesting, odd totals."""
        rng = self.rng

        def made(depth: int) -> dict[str, object]:
            inner = [{"name": f"i{n}", "parts": float(rng.uniform(0, 5))} for n in range(int(rng.integers(1, 4)))]
            if depth:
                inner.append({"name": "mix", "parts": 1, "recipe": made(depth - 1)})
            return {"basis": str(rng.choice(["mass", "volume"])), "ingredients": inner}

        text = json.dumps(made(int(rng.choice([0, 1, 3, 20, 31, 50]))))
        for _ in range(int(rng.integers(0, 3))):
            at = int(rng.integers(0, len(text)))
            text = text[:at] + self.sign() + text[at + 1 :]
        path.with_suffix(".json").write_text(text, encoding="utf-8", errors="surrogatepass")
        cup = path.with_suffix(".cup.json")
        cup.write_text(json.dumps({"i0": float(rng.uniform(0, 50)), "i1": 3}) if rng.random() < 0.8 else f'{{"i0": {self.sign()}}}')
        total = str(rng.choice(["250g", "120ml", "8 oz", "9**9**9g", "1e400g", "nang", "-5g", "0g", "1 fl oz", "5 parsecs", "g", "1e3g"]))
        more = ["--cup", str(cup)] if rng.random() < 0.5 else []
        self._command("mix", str(path.with_suffix(".json")), "--total", total, *more)

    def notebook(self, path: Path) -> None:
        """A database with damaged bytes, values or tables: checked, repaired, opened."""
        folder = path.with_suffix(".dribbet")
        shutil.copytree(self.small, folder)
        database = folder / "notebook.sqlite3"
        if self.rng.random() < 0.5:
            database.write_bytes(self.spoiled(self.database))
        else:
            with contextlib.closing(sqlite3.connect(database)) as connection:
                tables = [t for (t,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
                table = tables[int(self.rng.integers(len(tables)))]
                columns = [r[1] for r in connection.execute(f'PRAGMA table_info("{table}")')]
                column = columns[int(self.rng.integers(len(columns)))]
                with contextlib.suppress(sqlite3.Error):
                    connection.execute(f'UPDATE "{table}" SET "{column}" = ? WHERE rowid = 1', (self.sign(),))
                connection.commit()
        with contextlib.suppress(DribbetError):
            book = open_notebook(folder)
            from dribbet.studio.desk import Desk

            try:
                desk = Desk(book, lambda: __import__("datetime").datetime.now().astimezone())
                for series in desk.all_series():
                    desk.load(series.id)
            finally:
                book.close()
        verify(folder)
        with contextlib.suppress(DribbetError):
            repair(folder, path.with_suffix(".mended"))
            again = open_notebook(path.with_suffix(".mended"))
            again.close()

    def _command(self, *words: str) -> None:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = command(list(words))
        said = err.getvalue().strip()
        assert code in (0, 1, 2), code
        assert code == 0 or (said and "Traceback" not in said), said
        assert code != 1 or "\n" not in said, f"more than one line: {said[:200]}"
        said = said.splitlines()[-1] if said else ""  # wrong usage shows how it is used, then says what was wrong
        if code == 0:
            json.loads(out.getvalue(), parse_constant=lambda c: (_ for _ in ()).throw(AssertionError(f"{c} in the result")))
        else:
            raise DribbetError(said)


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("cases", type=int, nargs="?", default=2000)
    words.add_argument("seed", type=int, nargs="?", default=1)
    asked = words.parse_args()
    signal.signal(signal.SIGALRM, ring)
    outcomes: dict[str, Counter[str]] = {}
    bad: Counter[str] = Counter()
    slowest: dict[str, float] = {}
    start = time.perf_counter()
    with tempfile.TemporaryDirectory(prefix="fuzz-") as scratch:
        fuzzer = Fuzzer(Path(scratch), asked.seed)
        kinds = [fuzzer.photo, fuzzer.package, fuzzer.runs, fuzzer.recipe, fuzzer.notebook]
        for number in range(asked.cases):
            kind = kinds[number % len(kinds)]
            name = kind.__name__
            place = Path(scratch) / "case"
            place.mkdir()
            begun = time.perf_counter()
            signal.alarm(LONGEST_S)
            try:
                kind(place / "x")
                outcome = "taken"
            except DribbetError as error:
                outcome = "refused in words"
                if "\n" in str(error).strip() or len(str(error)) > 600:
                    outcome = "refused badly"
                    bad[f"{name}: {str(error)[:200]!r}"] += 1
            except (Exception, Hung) as error:
                outcome = "FAILED"
                bad[f"{name}: {type(error).__name__}: {str(error)[:200]}"] += 1
                shutil.copytree(place, Path("fuzz-found") / f"{name}-{asked.seed}-{number}", dirs_exist_ok=True)
            finally:
                signal.alarm(0)
            slowest[name] = max(slowest.get(name, 0.0), time.perf_counter() - begun)
            outcomes.setdefault(name, Counter())[outcome] += 1
            shutil.rmtree(place)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{asked.cases} cases in {time.perf_counter() - start:.0f} s, seed {asked.seed}; most memory {peak:.0f} MB")
    for name, counts in outcomes.items():
        print(f"  {name}: {dict(counts)}; slowest {slowest[name]:.1f} s")
    for what, n in bad.most_common(30):
        print(f"  {n} x {what}")
    sys.exit(bool(bad))


if __name__ == "__main__":
    main()
