"""The report of a series in the person's words, and its pictures; drawn by `paper.report`."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from dribbet.bench.apart import apart
from dribbet.bench.choosing.presenter import ChoosingPresenter
from dribbet.bench.choosing.scoring_presenter import ScoringPresenter
from dribbet.bench.parts.response_plots import round_steps
from dribbet.lab.plan import planning
from dribbet.lab.plan.design import mix_fractions
from dribbet.paper.report import JudgedLine, ReportPicture, ReportPlot, SeriesReport, report_pdf
from dribbet.records import Response
from dribbet.sight import geometry
from dribbet.sight.load import load
from dribbet.studio.standing import panels as standing
from dribbet.studio.standing import verdict
from dribbet.words import decide as decide_words
from dribbet.words.levels import levels_text
from dribbet.words.units import count_text, percent, units_of
from dribbet.words.verdict import METHOD

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from dribbet.bench.stations.decide.presenter import DecidePresenter
    from dribbet.records import Report
    from dribbet.sight.round_face import Disc
    from dribbet.studio.run import Run

PX_PER_MM = 4.0
QUALITY = 88  # of the JPEG in the report


@dataclass(frozen=True, slots=True)
class WantedOnPaper:
    """A panel's picture that is still to be squared up."""

    path: Path
    width_px: int
    corners_px: tuple[tuple[float, ...], ...]
    size_mm: tuple[float, float]
    code: str
    words: str
    disc: Disc | None


def report_of(decide: DecidePresenter) -> Callable[[Report], bytes]:
    """Take down what the report says now; returns what draws it as PDF, to be called in a job."""
    run = decide.desk.need_run()
    said, wanted = _said(decide, run), _wanted(decide, run)

    def draw(report: Report) -> bytes:
        pictures = []
        for done, one in enumerate(wanted):
            report(done, len(wanted))
            pictures.append(picture(one))
        return apart(report, report_pdf, replace(said, pictures=tuple(pictures)))

    return draw


def picture(wanted: WantedOnPaper) -> ReportPicture:
    """Square a photograph up and pack it."""
    import cv2
    import numpy as np

    rgb = load(wanted.path).rgb
    corners = np.array(wanted.corners_px) * (rgb.shape[1] / wanted.width_px)
    flat = geometry.rectify(rgb, corners, *wanted.size_mm, PX_PER_MM)
    if wanted.disc is not None:
        flat = wanted.disc.cut_out(flat, PX_PER_MM, (255, 255, 255))
    _, packed = cv2.imencode(".jpg", cv2.cvtColor(flat, cv2.COLOR_RGB2BGR), [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    return ReportPicture(packed.tobytes(), wanted.code, wanted.words, *wanted.size_mm)


def _said(decide: DecidePresenter, run: Run) -> SeriesReport:
    s, desk, view = run.series, decide.desk, decide.view()
    units, pairs = units_of(desk), decide.pairs(run)
    judged = []
    for r, d in decide.differences(run, pairs[decide.pair % len(pairs)]):
        strip = decide.strip(r, d)
        interval = (
            decide_words.NO_INTERVAL
            if d.low is None or d.high is None or d.answer is None
            else decide_words.INTERVAL_BY(
                level=d.level * 100, low=decide.per_face(r, d.low), high=decide.per_face(r, d.high), method=METHOD[d.answer.way]
            )
        )
        judged.append(
            JudgedLine(
                strip.name,
                strip.words,
                strip.word,
                decide_words.INTERVAL_OF_PANELS(interval=interval, n_first=d.n_first, n_second=d.n_second),
                strip.middle,
                strip.low,
                strip.high,
            )
        )
    asked = ", with ".join(f"{v.words} of {levels_text(v, units)}" for v in s.varied)
    held = s.constants
    return SeriesReport(
        title=s.name,
        question=decide_words.QUESTION_IN_FULL(
            asked=asked, responses=s.responses[0][0], panels=count_text(len(run.panels), "panel"), repeats=s.repeats, seed=s.seed
        ),
        verdict=view.sentence,
        compared=view.head,
        judged=tuple(judged),
        differs=tuple(r.body for r in view.differs),
        prediction=view.predicted or decide_words.NO_PREDICTION_WAS_MADE,
        held=decide_words.HELD_IN_SHORT(
            mass=units.mass_text(held.poured_kg),
            size_text=units.size_text(held.panel_width_m * 1e3, held.panel_height_m * 1e3),
            support=held.support,
            technique=held.technique,
            temperature=units.temperature_text(held.room_c),
            percent=percent(held.room_rh),
        ),
        recipes=_recipe_rows(run),
        results=_result_rows(decide, run),
        ledger=_ledger_rows(decide, run),
        pictures=(),
        answers=_answer_rows(decide, run),
        plots=_plots(decide, run),
        picked=_picked(decide, run),
        next_pours=_next_rows(decide, run),
        made=decide_words.MADE_ON(day=desk.local(desk.now())),
    )


def _answer_rows(decide: DecidePresenter, run: Run) -> tuple[tuple[str, ...], ...]:
    """Every pair of levels, response by response, and what two things do together."""
    rows: list[tuple[str, ...]] = [("What", "Response", "Difference", "Interval", "Word")]
    for pair in decide.pairs(run):
        for r, d in decide.differences(run, pair):
            between = (
                "" if d.low is None or d.high is None else f"{decide.per_face(r, d.low)} to {decide.per_face(r, d.high)} ({d.level * 100:.3g} %)"
            )
            told = "not read" if d.difference != d.difference else decide.per_face(r, d.difference)
            rows.append((decide_words.INSTEAD_OF(first_words=pair.first_words, second_words=pair.second_words), str(r), told, between, str(d.word)))
    for a in verdict.shown(decide.desk, run).together():
        names = [str(run.series.varied[int(f)].factor) if f.isdigit() else f for f in a.factors]
        rows.append((" with ".join(names), a.response, decide_words.WHAT_THEY_DO_TOGETHER, "", str(a.word)))
    return tuple(rows)


def _plots(decide: DecidePresenter, run: Run) -> tuple[ReportPlot, ...]:
    """Each response over each thing varied."""
    made = []
    for response, _ in run.series.responses:
        for view in decide.plots(run, response):
            values = [y for _, y, _ in view.points]
            if values:
                low, high = min(values), max(values)
                low = 0.0 if 0.0 <= low < 0.5 * high else low
                ticks = round_steps(low, high) if high > low else (low,)
                points = tuple((x, y) for x, y, _ in view.points)
                made.append(ReportPlot(decide.plot_head(response), view.name, view.levels, points, view.lines, ticks))
    return tuple(made)


def _picked(decide: DecidePresenter, run: Run) -> tuple[str, ...]:
    """What blind picks and points said, of the maker and of guests apart."""
    told = []
    for one in ChoosingPresenter(decide.desk).results(run):
        rows = "; ".join(f"{r.name} {r.count}" for r in one.rows)
        told.append(f"\x02{one.result}\x03 {one.who}: {rows}. {one.note}".strip())
    for side in ScoringPresenter(decide.desk).results(run):
        told.append(f"{side.who}. {side.note}".strip())
        for of in side.told:
            rows = "; ".join(f"{r.name} {r.count}" for r in of.rows)
            told.append(f"\x02{of.result}\x03 {rows}. {of.note}".strip())
    return tuple(told)


def _next_rows(decide: DecidePresenter, run: Run) -> tuple[tuple[str, ...], ...]:
    """What could be poured next."""
    rows: list[tuple[str, ...]] = [("What", "Why", "Expected gain", "It takes")]
    return (*rows, *((r.what, r.why, r.brings, r.takes) for r in decide.next.rows(run)))


def _recipe_rows(run: Run) -> tuple[tuple[str, ...], ...]:
    colour = planning.colours_of(run.series)[0]
    rows: list[tuple[str, ...]] = [("Recipe", "Paint", "Medium", "Water", "Alcohol", "Silicone")]
    for a in run.arms:
        shares = mix_fractions(a, colour)
        rows.append(
            (
                f"{run.series.code}-{a.letter}",
                percent(shares[colour]),
                f"{percent(a.medium_share)} {a.medium}",
                percent(a.water_share),
                percent(a.alcohol_share),
                decide_words.DROPS_IN_100_G(silicone_drops_per_100g=a.silicone_drops_per_100g),
            )
        )
    return tuple(rows)


def _result_rows(decide: DecidePresenter, run: Run) -> tuple[tuple[str, ...], ...]:
    asked = [r for r, _ in run.series.responses]
    rows: list[tuple[str, ...]] = [("Panel", *(str(r) for r in asked), "Note")]
    for p in run.panels:
        values = [run.value(p, r) for r in asked]
        rows.append((p.code, *("not read" if v is None else decide.amount(r, v) for r, v in zip(asked, values, strict=True)), p.spoiled))
    return tuple(rows)


def _ledger_rows(decide: DecidePresenter, run: Run) -> tuple[tuple[str, ...], ...]:
    desk = decide.desk
    rows: list[tuple[str, ...]] = [("When", "Cup", "Ingredient", "Weighed in", "Planned")]
    for mix in run.mixes:
        plan = dict(mix.plan)
        for w in (w for w in run.weighings if w.mix_id == mix.id):
            planned = units_of(desk).mass_text(plan[w.ingredient]) if w.ingredient in plan else ""
            cup = f"{run.series.code}-{mix.recipes} {mix.colour}"
            rows.append((f"{desk.local(w.at):%-d %b %H:%M}", cup, w.ingredient, units_of(desk).mass_text(w.mass_kg), planned))
    return tuple(rows)


def _wanted(decide: DecidePresenter, run: Run) -> list[WantedOnPaper]:
    made = []
    for p in run.panels:
        reading = run.reading(p)
        if run.photo(p) is None or reading is None:
            continue
        photo = next(f for f in run.photos if f.id == reading.photo_id)  # the one that was read, wherever newer ones are
        level = ", ".join(decide.level(run, i, n) if n >= 0 else "halfway" for i, n in enumerate(p.settings))
        words = f"{level}; {reading.result['cells']['count']} cells, "
        words += f"{decide.amount(Response.CRACK_LENGTH, reading.result['cracks']['length_mm'])} of crack"
        passed = standing.passed(decide.desk, run, p)
        words += f"; passed: {', '.join(passed)}" if passed else ""
        words += f"; left out: {p.spoiled}" if p.spoiled else ""
        path = decide.desk.notebook.photos.path_of(photo)
        corners = tuple(tuple(float(v) for v in c) for c in reading.result["panel"]["corners_px"])
        made.append(WantedOnPaper(path, photo.width_px, corners, run.size_mm(p), p.code, words, run.disc(p)))
    return made
