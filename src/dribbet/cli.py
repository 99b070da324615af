"""The command line: same core as the window. Exit code 0 done, 1 could not (one line says why), 2 wrong usage."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from dribbet import __version__
from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from dribbet.lab.cup.repair import Thrift
    from dribbet.lab.cup.typed_amounts import Amount


def parser() -> argparse.ArgumentParser:
    """Every command with its options."""
    top = argparse.ArgumentParser(
        prog="dribbet", description="Controlled test pours with fluid acrylics: plan, weigh, pour, dry, photograph, measure, judge."
    )
    top.add_argument("--version", action="version", version=f"dribbet {__version__}")
    commands = top.add_subparsers(dest="command", required=True)

    def command(name: str, does: str, run: Callable[[argparse.Namespace], None]) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=does, description=does)
        made.set_defaults(run=run)
        return made

    c = command("demo", "open the window on a fresh copy of the demo notebook", _demo)
    c.add_argument("--notebook", type=Path, metavar="DIR", help="where to put the copy (a temporary folder otherwise)")
    c = command("open", "open the window on a notebook", _open)
    c.add_argument("notebook", type=Path, nargs="?", metavar="NOTEBOOK")
    c = command("tour", "render every main view of the demo notebook to PNG, offscreen", _tour)
    c.add_argument("outdir", type=Path, metavar="OUTDIR")
    c.add_argument("--size", default="1280x800", metavar="WxH")
    c = command("measure", "measure one panel from its photographs", _measure)
    c.add_argument("photo", type=Path, nargs="?", metavar="PHOTO")
    c.add_argument("--size", required=True, metavar="WxH", help="size of the panel in mm, such as 200x150")
    c.add_argument("--round", action="store_true", help="the panel is a disc or an ellipse of that size; corners are of the square round it")
    where = c.add_mutually_exclusive_group()
    where.add_argument("--corners", metavar="x,y,x,y,x,y,x,y", help="corners in photo pixels, clockwise from the panel's top left")
    where.add_argument("--auto", action="store_true", help="find the corners (what happens without --corners too)")
    for lamp in ("left", "right", "diffuse"):
        c.add_argument(f"--{lamp}", type=Path, metavar="F", help=f"photograph with the lamp {lamp}")
    c.add_argument("--edge", type=Path, metavar="F", help="photograph with the edge of a lit board mirrored in the panel: adds its shine")
    c.add_argument("--json", type=Path, metavar="OUT")
    c.add_argument("--masks", type=Path, metavar="DIR")
    c = command("drips", "measure a drip card", _drips)
    c.add_argument("photo", type=Path, metavar="PHOTO")
    c.add_argument("--json", type=Path, metavar="OUT")
    c = command("mix", "flatten and scale a recipe; with --cup the repair", _mix)
    c.add_argument("recipe", type=Path, metavar="RECIPE.json")
    c.add_argument("--total", metavar="250g|120ml")
    c.add_argument("--cup", type=Path, metavar="CUP.json")
    c.add_argument("--capacity", metavar="400g")
    c.add_argument("--json", type=Path, metavar="OUT")
    c = command("effects", "effects, intervals, analysis of variance", _effects)
    c.add_argument("runs", type=Path, metavar="RUNS.csv")
    c.add_argument("--response", required=True, metavar="COL")
    c.add_argument("--factors", required=True, metavar="A,B[,C]")
    c.add_argument("--interactions", action="store_true")
    c.add_argument("--json", type=Path, metavar="OUT")
    c = command("judge", "what a test shows, by the same model as Decide: words, intervals, all that is asked taken together", _judge)
    c.add_argument("runs", type=Path, metavar="RUNS.csv")
    c.add_argument("--responses", required=True, metavar="COL:KIND,…", help="KIND is count, length, share, yesno, amount or time (empty: not yet)")
    c.add_argument("--factors", required=True, metavar="A,B[,C]")
    c.add_argument("--area", metavar="COL", help="measured area in dm2: counts and lengths are judged per dm2")
    c.add_argument("--block", metavar="COL", help="day or batch that panels share")
    c.add_argument("--sheet", metavar="COL", help="sheet that pieces share")
    c.add_argument("--covariates", metavar="COL,…", help="what moved along, such as film or order")
    c.add_argument("--series", metavar="COL", help="judge each value of this column as a test of its own")
    c.add_argument("--json", type=Path, metavar="OUT")
    c = command("export", "write a notebook as a Data Package", _export)
    c.add_argument("notebook", type=Path, metavar="NOTEBOOK")
    c.add_argument("out", type=Path, metavar="OUT.zip")
    c = command("import", "read a Data Package into a notebook", _import)
    c.add_argument("file", type=Path, metavar="FILE")
    c.add_argument("--into", type=Path, required=True, metavar="NOTEBOOK")
    c = command("verify", "check database, photos and references of a notebook", _verify)
    c.add_argument("notebook", type=Path, metavar="NOTEBOOK")
    c.add_argument("--repair", type=Path, metavar="NEW", help="write a whole copy of what is left to a new folder")
    c.add_argument("--from", dest="from_copy", default="", metavar="COPY", help="with --repair: take the database from this kept copy")
    c = command("card", "print the photo card or the drip card at true size", _card)
    c.add_argument("kind", choices=["photo", "drip"])
    c.add_argument("out", type=Path, metavar="OUT.pdf")
    c = command("draw-demo", "draw the demo studio's photographs and readings again", _draw_demo)
    c.add_argument("outdir", type=Path, metavar="OUTDIR")
    c.add_argument("--keep-photos", action="store_true", help="read the photographs that are in OUTDIR already, draw none")
    return top


def main(argv: list[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    try:
        words = parser().parse_args(argv)
    except SystemExit as stop:
        return stop.code if isinstance(stop.code, int) else 2
    try:
        words.run(words)
    except _Usage as error:
        print(f"dribbet: {error}", file=sys.stderr)
        return 2
    except DribbetError as error:
        print("dribbet: " + " ".join(str(error).split()), file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("dribbet: stopped; nothing half was written.", file=sys.stderr)
        return 1
    except BrokenPipeError:
        return 1
    except OSError as error:
        where = f" ({error.filename})" if error.filename else ""
        print(f"dribbet: {error.strerror or error}{where}. Check the path, its permissions and the room on the disk.", file=sys.stderr)
        return 1
    return 0


class _Usage(Exception):
    """Words that make no command."""


@contextlib.contextmanager
def _progress(what: str) -> Iterator[Callable[[int, int], None]]:
    """Bar on a terminal, once the work has taken a second."""
    start, shown = time.monotonic(), False

    def report(done: int, total: int) -> None:
        nonlocal shown
        if sys.stderr.isatty() and time.monotonic() - start > 1.0:
            filled = round(24 * done / max(total, 1))
            print(f"\r{what} [{'#' * filled}{'.' * (24 - filled)}]", end="", file=sys.stderr, flush=True)
            shown = True

    try:
        yield report
    finally:
        if shown:
            print(file=sys.stderr)


def _size(text: str) -> tuple[float, float]:
    try:
        width, height = (float(v) for v in text.lower().replace("×", "x").split("x"))
    except ValueError:
        raise _Usage(f"--size {text}: give width and height, such as 200x150.") from None
    return width, height


def _write_json(path: Path | None, content: dict[str, Any]) -> None:
    text = json.dumps(content, indent=1, ensure_ascii=False, allow_nan=False)
    if path is None:
        print(text)
        return
    from dribbet.notebook.whole_file import write_whole

    write_whole(path, text.encode())


# ---------------------------------------------------------------- measuring


_UNLIKE_LAMPS: Final = "The photos of the three lamps are of unlike size. Take them in one pose, with one camera setting."


def _measure(words: argparse.Namespace) -> None:
    import cv2
    import numpy as np

    from dribbet.sight import measure as sight
    from dribbet.sight.lamps import on_file
    from dribbet.sight.load import load
    from dribbet.sight.round_face import Disc

    main_photo = words.photo or words.diffuse
    if main_photo is None:
        raise _Usage("measure: name a photo, or --diffuse with --left and --right.")
    if (words.left is None) != (words.right is None):
        raise _Usage("measure: shimmer needs both --left and --right.")
    width, height = _size(words.size)
    corners = None
    if words.corners:
        try:
            corners = np.array([float(v) for v in words.corners.split(",")]).reshape(4, 2)
        except ValueError:
            raise _Usage("--corners: give eight numbers, x,y of each corner, clockwise from the panel's top left.") from None
    with _progress("Measuring") as report:
        main = load(main_photo)
        photos = sight.Lamps(
            main=main.rgb,
            left=on_file(words.left, main.rgb, _UNLIKE_LAMPS),
            right=on_file(words.right, main.rgb, _UNLIKE_LAMPS),
            edge=on_file(words.edge, main.rgb, "The photo with the mirrored edge is of unlike size. Take both in one pose, with one camera setting."),
            px_per_mm=main.px_per_mm,
        )
        found = sight.measure(
            photos, width, height, corners_px=None if corners is None else corners / main.shrink,
            disc=Disc.within(width, height) if words.round else None, report=report,
        )  # fmt: skip
    result = sight.as_json(found, shrink=main.shrink)
    result["light"]["warnings"] += [*main.remarks, *_open_questions(result)]
    if words.masks:
        from dribbet.notebook.whole_file import write_whole

        words.masks.mkdir(parents=True, exist_ok=True)
        for name, mask in sight.masks(found).items():
            image = mask if name == "cells" else np.asarray(mask, np.uint8) * 255
            good, packed = cv2.imencode(".png", image)
            if not good:
                raise DribbetError(f"The mask {name} could not be made.")
            write_whole(words.masks / f"{name}.png", packed.tobytes())
    if words.json or not words.masks:
        _write_json(words.json, result)


def _open_questions(result: dict[str, Any]) -> list[str]:
    """What the reader leaves to a person, who is asked for it in the window: sentences for those who read figures only."""
    from dribbet.sight.cracks import missed_mm

    told = []
    spread, cracks = result["spread"], result["cracks"]
    if spread["doubtful"]:
        least = spread["fraction"] - spread["doubtful"]
        told.append(
            f"{spread['doubtful'] * 100:.0f} % of the panel, at its edge, may be bare base or paint of its colour: {least * 100:.0f} to "
            f"{spread['fraction'] * 100:.0f} % are covered. Look at the panel; in the window, Read asks."
        )
    if cracks["doubtful_mm"]:
        flat = cracks.get("under_lamps", {}).get("flat_mm", 0.0)
        by_lamps = f" {flat:.0f} mm of them lie flat under the lamps, as paint does." if flat else ""
        told.append(f"{cracks['doubtful_mm']:.0f} mm of lines may be cracks, and are not counted.{by_lamps} Look at the panel.")
    elif missed := missed_mm(cracks):
        told.append(f"No crack was found, but {missed:.0f} mm may be missed: some lines are hard to tell apart. Look at the panel.")
    return told


def _drips(words: argparse.Namespace) -> None:
    from dribbet.sight.drips import read_drips
    from dribbet.sight.load import load

    found = read_drips(load(words.photo).rgb)
    drips = [{"x_mm": round(d.x_mm, 2), "run_mm": round(d.run_mm, 2), "hex": d.hex} | ({"off_card": True} if d.off_card else {}) for d in found]
    _write_json(words.json, {"schema": "dribbet-drips/1", "drips": drips})


# ---------------------------------------------------------------- lab


def _amount(text: str) -> Amount:
    from dribbet.lab.cup.typed_amounts import amount

    try:
        return amount(text)
    except DribbetError as error:
        raise _Usage(str(error)) from None


def _mix(words: argparse.Namespace) -> None:
    from dribbet.lab.cup import recipe as lab
    from dribbet.lab.cup.repair import repair
    from dribbet.notebook.recipe_file import read_cup, read_recipe

    components = lab.flatten(read_recipe(words.recipe))
    density = lab.mix_density_kg_m3(components)
    cup = read_cup(words.cup) if words.cup else None
    if words.total:
        said = _amount(words.total)
        total_kg = said.kg if said.kg is not None else (said.m3 or 0.0) * density
    elif cup is not None:
        total_kg = sum(cup.values()) / 1000.0
    else:
        total_kg = 0.1
    if not total_kg > 0.0:
        raise DribbetError("The total must be more than nothing. Write it as 250g or 120ml.")
    result: dict[str, Any] = {
        "total_g": total_kg * 1e3,
        "total_ml": total_kg / density * 1e6,
        "volume_solids": lab.volume_solids(components),
        "ingredients": [
            {
                "name": c.name,
                "mass_g": total_kg * c.mass_fraction * 1e3,
                "volume_ml": total_kg * c.mass_fraction / c.density_kg_m3 * 1e6,
                "mass_fraction": c.mass_fraction,
            }
            for c in components
        ],
    }
    if cup is not None:
        capacity = None
        if words.capacity:
            holds = _amount(words.capacity)
            capacity = holds.kg if holds.kg is not None else (holds.m3 or 0.0) * density
        mended = repair({k: v / 1e3 for k, v in cup.items()}, {c.name: c.mass_fraction for c in components}, capacity_kg=capacity)
        result["repair"] = {
            "additions_g": {k: round(v * 1e3, 9) for k, v in mended.additions_kg.items()},
            "total_g": round(mended.total_kg * 1e3, 9),
            "exact": mended.exact,
            "left_wrong": list(mended.left_wrong),
            "pour_off_g": round(mended.pour_off_kg * 1e3, 6),
        }
        thrift = _thrift(cup, {c.name: c.mass_fraction for c in components}, total_kg if words.total else capacity)
        if thrift is not None:
            result["repair"]["take_out_first"] = {
                "take_out_g": round(thrift.take_out_kg * 1e3, 9),
                "additions_g": {k: round(v * 1e3, 9) for k, v in thrift.additions_kg.items()},
                "total_g": round(thrift.total_kg * 1e3, 9),
            }
    _write_json(words.json, result)


def _thrift(cup_g: dict[str, float], target: dict[str, float], total_kg: float | None) -> Thrift | None:
    """The other way to mend: take well-mixed paint out first, and end at a total; None where none was said or it cannot be."""
    from dribbet.lab.cup.repair import take_out_first

    if total_kg is None:
        return None
    try:
        return take_out_first({k: v / 1e3 for k, v in cup_g.items()}, target, total_kg)
    except DribbetError:
        return None


def _effects(words: argparse.Namespace) -> None:
    import numpy as np

    from dribbet.lab.verdict.effects import effects
    from dribbet.runs import read_runs

    factors = [f.strip() for f in words.factors.split(",") if f.strip()]
    if not factors:
        raise _Usage("--factors: name at least one column.")
    values, columns = read_runs(words.runs, words.response, factors)
    found = effects(np.array(values), columns, interactions=words.interactions)
    from dataclasses import asdict

    _write_json(
        words.json,
        {
            "n": found.n,
            "residual_df": found.residual_df,
            "residual_sd": found.residual_sd,
            "terms": [asdict(t) for t in found.terms],
            "anova": asdict(found.anova),
        },
    )


def _judge(words: argparse.Namespace) -> None:
    from dribbet.runs import RunColumns, judged

    def listed(text: str | None) -> tuple[str, ...]:
        return tuple(v.strip() for v in (text or "").split(",") if v.strip())

    responses = []
    for one in listed(words.responses):
        name, _, kind = one.rpartition(":")
        responses.append((name.strip(), kind.strip()))
    if not responses or not listed(words.factors):
        raise _Usage("judge: name at least one response, such as cells:count, and one factor.")
    columns = RunColumns(
        responses=tuple(responses), factors=listed(words.factors), area=words.area, block=words.block, sheet=words.sheet,
        covariates=listed(words.covariates), series=words.series,
    )  # fmt: skip
    _write_json(words.json, judged(words.runs, columns))


# ---------------------------------------------------------------- notebooks


def _export(words: argparse.Namespace) -> None:
    from dribbet.notebook import open_notebook
    from dribbet.notebook.exchange import export

    notebook = open_notebook(words.notebook)
    with contextlib.closing(notebook), _progress("Exporting") as report:
        export(notebook, words.out, report)


def _import(words: argparse.Namespace) -> None:
    from dribbet.notebook import open_notebook
    from dribbet.notebook.exchange import import_package

    if not words.file.exists():
        raise DribbetError(f"There is no file {words.file}. Check the name.")
    notebook = open_notebook(words.into, create=True)
    with contextlib.closing(notebook), _progress("Importing") as report:
        taken = import_package(words.file, notebook, report)
    print(", ".join(f"{n} {name.replace('_', ' ')}" for name, n in taken.items() if n) or "nothing new")


def _verify(words: argparse.Namespace) -> None:
    from dribbet.notebook.verify import verify

    if words.from_copy and not words.repair:
        raise _Usage("verify: --from names a kept copy for --repair NEW.")
    if words.repair:
        from dribbet.notebook.repair import repair

        with _progress("Copying") as report:
            for sentence in repair(words.notebook, words.repair, from_copy=words.from_copy, report=report):
                print(sentence)
        left = verify(words.repair)
        for fault in left:
            print(f"still wrong: {fault.sentence}")
        print(f"A whole copy stands at {words.repair}." if not left else f"A copy stands at {words.repair}.")
        return
    with _progress("Checking") as report:
        faults = verify(words.notebook, report)
    for fault in faults:
        print(f"{'can be repaired' if fault.repairable else 'lost'}: {fault.sentence}")
    if faults:
        raise DribbetError(f"{words.notebook} has {len(faults)} fault{'s' if len(faults) > 1 else ''}, listed above.")
    print("The notebook is whole.")


def _card(words: argparse.Namespace) -> None:
    from dribbet.notebook.whole_file import write_whole
    from dribbet.paper.cards import card_pdf

    write_whole(words.out, card_pdf(words.kind))


# ---------------------------------------------------------------- the window


def _demo(words: argparse.Namespace) -> None:
    from dribbet.bench.application import run
    from dribbet.demo.build import build_notebook

    with tempfile.TemporaryDirectory(prefix="dribbet-") as scratch:
        folder = words.notebook or Path(scratch) / "Tidewrack.dribbet"
        build_notebook(folder)
        run(folder, demo=True)


def _open(words: argparse.Namespace) -> None:
    from platformdirs import user_documents_path

    from dribbet.bench.application import run

    run(words.notebook or user_documents_path() / "Studio.dribbet", demo=False)


def _tour(words: argparse.Namespace) -> None:
    width, height = _size(words.size)
    if not (600 <= width <= 8000 and 500 <= height <= 8000):
        raise _Usage("--size: choose a size between 600x500 and 8000x8000.")
    from dribbet.bench.tour import render_tour

    with _progress("Drawing") as report:
        for path in render_tour(words.outdir, round(width), round(height), report):
            print(path)


def _draw_demo(words: argparse.Namespace) -> None:
    from dataclasses import asdict

    from dribbet.demo.build import READINGS_NAME, draw_photos, pack_readings, planned_shots
    from dribbet.notebook.whole_file import write_whole
    from dribbet.records import silent
    from dribbet.sight import READER
    from dribbet.sight.photographs import ToRead, look_at, read

    words.outdir.mkdir(parents=True, exist_ok=True)
    readings: dict[str, Any] = {}
    with _progress("Drawing") as report:
        for shot in planned_shots(report) if words.keep_photos else draw_photos(words.outdir, report):
            size = (shot.width_mm, shot.height_mm)
            paths = {lamp: words.outdir / name for lamp, name in shot.files.items()}
            result = read(silent, ToRead(main=paths["diffuse"], left=paths.get("left"), right=paths.get("right"), size_mm=size))
            fit = {lamp: [asdict(s) for s in look_at(silent, path, "", size).seen] for lamp, path in paths.items()}
            readings[shot.key] = {"reader": READER, "result": result, "quality": fit}
    write_whole(words.outdir.parent / READINGS_NAME, pack_readings(readings))


if __name__ == "__main__":
    sys.exit(main())
