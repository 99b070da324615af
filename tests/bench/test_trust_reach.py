"""Late looks, names, reach, and the notebook as a whole."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
import pytest

from dribbet.bench.notice import notebook_words
from dribbet.bench.parts.base import Words
from dribbet.bench.stations.dry.presenter import DryPresenter
from dribbet.bench.stations.shoot.presenter import ShootPresenter
from dribbet.lab.panel.drying import TIMES_H
from dribbet.lab.panel.progress import Station
from dribbet.notebook import open_notebook
from dribbet.records import (
    DribbetError,
    Judging,
    Look,
    PanelWeighing,
    PanelWeight,
    Series,
    SeriesState,
)
from dribbet.studio.desk import Desk
from dribbet.words import dry as dry_words
from dribbet.words.units import units_of
from tests.bench.conftest import trouble

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget


@pytest.mark.parametrize("name", [name for name, _ in TIMES_H])
def test_every_look_has_words_on_dry_and_a_stage_on_shoot(open_window, desk, clock, name):
    """Looks at 7 days and when cured once ended the window, and then kept the notebook from opening."""
    desk.choose_series("k4")
    run = desk.need_run()
    judged = (Judging(response=run.series.responses[0][0], times=("dry", name)),)
    desk.notebook.replace(replace(run.series, protocol=judged, state=SeriesState.RUNNING))
    hours = dict(TIMES_H)[name]
    panel = next(p for p in run.panels if run.station(p, clock.now) in (Station.MIX, Station.CHECK, Station.POUR))
    poured = clock.now
    desk.notebook.add(PanelWeighing(id="late", panel_id=panel.id, kind=PanelWeight.POURED, mass_kg=0.3, at=poured))
    for done, _ in TIMES_H[: [n for n, _ in TIMES_H].index(name)]:
        desk.notebook.add(Look(id=f"l-{done}", panel_id=panel.id, due=done, at=poured))
    clock.pass_(hours=hours * 1.01)
    desk.changed()
    window = open_window(desk)
    for page in ("dry", "shoot", "today"):
        window.walk(page)
        window.grab()
        assert window.current == page
    assert window.stumbles == []
    assert any(dry_words.look(name) in d.words for d in DryPresenter(desk).view().dues)
    shoot = ShootPresenter(desk)
    desk.take("shoot", panel.id)
    seen = set()
    for _ in range(8):
        seen.add(shoot.view().stage)
        shoot.next_stage()
    assert name in seen


@pytest.mark.parametrize("name", ["<b>loud</b>", "a & b", "5 < 6 > 4", "&amp;", "<img src=x>", "\x02bold\x03"])
def test_names_are_shown_as_they_were_typed(open_window, desk, name):
    shown = "".join(sign for sign in name if sign.isprintable())
    run = desk.need_run()
    window = open_window(desk)
    window.walk("series")
    sheet = window.page("series")
    sheet.name_field.setText(name)
    sheet._rename()
    assert desk.need_run().series.name == shown
    assert desk.notebook.get(Series, run.series.id).name == shown
    words = Words(f"{shown}: \x02all\x03 of it", 16)
    assert words.said() == f"{shown}: all of it"
    picture = words.grab().toImage()
    plain = Words(f"{shown}: all of it", 16)
    assert abs(words.sizeHint().width() - plain.sizeHint().width()) < 20, "no sign of the name was taken for markup"
    assert not picture.isNull()


def test_names_are_shown_as_typed_on_paper(desk):
    from reportlab.lib.styles import ParagraphStyle

    from dribbet.paper import fonts
    from dribbet.paper.words import paragraph

    fonts.register()
    style = ParagraphStyle("x", fontName=fonts.REGULAR, fontSize=10)
    made = paragraph("<font color=red>Kelp & \x02Co\x03</font>", style)
    assert made.getPlainText() == "<font color=red>Kelp & Co</font>"


def many(desk, n: int, **changed) -> list[Series]:
    first = desk.all_series()[0]
    made = [replace(first, id=f"many{i}", code=f"Q{i}", name=f"Queue {i:02d}", **changed) for i in range(n)]
    desk.notebook.add(*made)
    desk.changed()
    return made


def test_every_series_can_be_reached_by_scrolling_and_by_typing(open_window, desk):
    many(desk, 40)
    window = open_window(desk, 1024, 700)
    window.walk("series")
    sheet = window.page("series")
    assert len(sheet._rows) == 48
    assert all(row.isVisibleTo(sheet) for row in sheet._rows.values())
    sheet.search.setText("queue 07")
    assert [r.series.name for r in sheet._rows.values() if r.isVisibleTo(sheet)] == ["Queue 07"]
    sheet.search.setText("no such words")
    assert "No series holds these words" in sheet.nothing.text()
    sheet.search.setText("decided")
    assert {r.series.state for r in sheet._rows.values() if r.isVisibleTo(sheet)} == {SeriesState.DECIDED}
    sheet.search.setText("q7")
    next(r for r in sheet._rows.values() if r.isVisibleTo(sheet)).click()
    assert desk.series_id == "many7"


def heights(widget: QWidget) -> list[tuple[str, int, int]]:
    return [(w.said(), w.height(), w.heightForWidth(w.width())) for w in widget.findChildren(Words) if w.isVisibleTo(widget) and w.said()]


def test_all_tasks_of_today_are_listed(open_window, desk):
    source = desk.load("k3")
    for n in range(40):
        s = replace(source.series, id=f"t{n}", code=f"T{n}", name=f"Task {n}", state=SeriesState.RUNNING)
        desk.notebook.add(s, replace(source.panels[0], id=f"p{n}", series_id=s.id, code=f"T{n}-a1"))
    desk.changed()
    window = open_window(desk)
    window.walk("today")
    page = window.page("today")
    tasks = page.presenter.tasks()
    assert len(tasks) > 40
    shown = [r for r in page._rows if r.isVisibleTo(page)]
    assert [r.task for r in shown] == tasks
    assert all(r.height() >= 44 for r in shown)


def test_reading_window_says_so_on_every_page_and_takes_over(open_window, desk, clock):
    book = open_notebook(desk.notebook.folder)
    window = open_window(Desk(book, clock))
    for name in ("ask", "mix", "dry", "read", "today", "shelf", "series"):
        window.walk(name)
        assert window.notice.isVisible(), name
        assert "only reads" in " ".join(w.said() for w in window.notice.findChildren(Words))
    window._take_over()
    assert book.read_only
    desk.notebook.close()
    window._take_over()
    assert not book.read_only
    assert not window.notice.isVisible()
    assert "This one writes now" in trouble(window)


def test_reading_window_follows_what_the_writing_one_does(open_window, desk, clock):
    desk.choose_series("k3")
    window = open_window(Desk(open_notebook(desk.notebook.folder), clock))
    window.walk("pour")
    reading = window.desk
    assert reading.series_id == "k3"
    assert not reading.follow()
    panel = next(p for p in reading.need_run().in_order() if reading.need_run().poured_at(p) is None)
    desk.notebook.replace(replace(panel, spoiled="cup slipped"))
    foam = next(m for m in desk.shelf() if m.name == "foam")
    desk.notebook.replace(replace(foam, name="sea foam"))
    window._take_over()  # as its timer does
    assert reading.notebook.read_only
    assert next(p for p in reading.need_run().panels if p.id == panel.id).spoiled == "cup slipped"
    assert any(m.name == "sea foam" for m in reading.shelf())
    assert not reading.follow(), "nothing is read anew while nothing happens"


def test_entries_that_cannot_be_read_are_told_and_the_window_opens(open_window, desk, clock):
    folder = desk.notebook.folder
    with desk.notebook.transaction() as connection:
        connection.exec_driver_sql("UPDATE reading SET result = '{}' WHERE rowid = 1")
        connection.exec_driver_sql("UPDATE look SET feel = 'odd' WHERE rowid = 1")
        connection.exec_driver_sql("INSERT INTO setting VALUES ('house_rules', '{\"drip_seconds\": -1}')")
        connection.exec_driver_sql('INSERT OR REPLACE INTO setting VALUES (\'units\', \'{"mass": "stone", "x": 1}\')')
    desk.notebook.close()
    book = open_notebook(folder)
    again = Desk(book, clock)
    assert again.rules.drip_seconds == 10.0
    assert again.units.mass == "g"
    window = open_window(again)
    for name in ("read", "dry", "decide", "rules", "findings"):
        window.walk(name)
        window.grab()
    assert window.stumbles == []
    (remark,) = notebook_words(book)
    assert remark.head == "3 entries cannot be read and are left out."
    assert "--repair" in remark.body


def test_todays_copy_is_kept_beside_the_window(open_window, desk, qtbot):
    window = open_window(desk)
    window._keep_copy()
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=10_000)
    (copy,) = (desk.notebook.folder / "copies").iterdir()
    assert copy.name == f"{desk.now().date()}.sqlite3"


def test_hour_of_a_look_follows_summer_time(desk, clock):
    """Poured in summer time, looked at in winter time: what is due at 15:00 on the wall says 15:00."""
    from datetime import UTC, datetime
    from zoneinfo import ZoneInfo

    clock.now = datetime(2026, 10, 24, 13, 0, tzinfo=UTC)
    here = Desk(desk.notebook, clock, here=ZoneInfo("Europe/Berlin"))
    due = datetime(2026, 10, 25, 14, 0, tzinfo=UTC)
    assert f"{here.local(clock.now):%H:%M} {here.local(due):%H:%M}" == "15:00 15:00"
    assert here.at_wall(datetime(2026, 10, 25, 15, 0)) == due
    assert DryPresenter(here)._when(due, clock.now) == "Sun 15:00"


def test_labels_into_a_folder_that_may_not_be_written_are_refused_in_words(tmp_path):
    from dribbet.notebook.whole_file import file_name, save_file

    (tmp_path / "file").write_text("")
    with pytest.raises(DribbetError, match="Choose another folder"):
        save_file(tmp_path / "file" / "labels.pdf", b"x")
    assert file_name('Kelp 03: a/b "c" <d>?') == "Kelp 03- a-b -c- -d--"
    assert file_name("../..") == "-"


HOSTILE = [
    "nan", "inf", "-inf", "1e308", "1e-300", "-1", "0", "", " ", "abc", "1_000", "9**9**9", "1e400", "٣", "½", "1,2,3", "x" * 5000, "<b>", "%s",
    "\x00",
]  # fmt: skip


@pytest.mark.parametrize("typed", HOSTILE)
def test_hostile_figures_in_bench_rules_are_refused_in_words_or_taken_as_they_are(desk, typed):
    from dribbet.bench.set_up import lines
    from dribbet.words.rules import lines as rule_lines

    refused: list[str] = []
    for line in rule_lines(desk.rules, units_of(desk)):
        if not line.ask or line.key in ("water", "pattern", "home_cups"):  # words of the person's own
            continue
        try:
            rules = lines.typed(desk.rules, line.key, typed, units_of(desk))
        except DribbetError as error:
            refused.append(str(error))
            continue
        desk.set_rules(rules)
        told = " ".join(x.text for x in rule_lines(desk.rules, units_of(desk)))
        assert "nan" not in told.lower().split()
        assert "inf" not in told.lower().split()
        assert np.isfinite([rules.tolerance_kg, rules.drip_seconds, rules.bubble_m, rules.match_within]).all()
    assert all(words.count(".") and "\n" not in words for words in refused)


def test_mix_asks_for_the_paint_in_hand_and_scales_the_cup_to_it(open_window, desk):
    """This question once ended the window."""
    desk.choose_series("k4")
    window = open_window(desk)
    window.walk("mix")
    page = window.page("mix")
    mix = next(m for m in desk.need_run().mixes if not any(w.mix_id == m.id for w in desk.need_run().weighings))
    page.presenter.acts.choose(mix.id)
    page._ask_paint()
    assert "How much paint" in page.typed_note.text()
    page.typed.setText("10")
    page.typed.returnPressed.emit()
    paint = dict(desk.notebook.get(type(mix), mix.id).plan)[mix.colour]
    assert paint == pytest.approx(0.010)


@pytest.mark.parametrize("name", ["water", "foam", "belt silicone", "brass", "glue", "harbour glue"])
def test_renaming_a_container_changes_no_recipe_past_or_planned(desk, name):
    from dribbet.bench.doors.shelf import card
    from dribbet.notebook.verify import verify

    def everything() -> list[object]:
        runs = [desk.load(s.id) for s in desk.all_series()]
        return [[(a.letter, a.parts, a.colours) for a in run.arms] + [run.cup(p) for p in run.panels] + [m.plan for m in run.mixes] for run in runs]

    before = everything()
    m = next(m for m in desk.shelf() if m.name == name)
    desk.notebook.replace(card.typed(m, "name", "another", desk))
    desk.changed()
    assert everything() == before
    assert verify(desk.notebook.folder) == []
    with pytest.raises(DribbetError, match="know another container as"):
        card.typed(next(x for x in desk.shelf() if x.name == "kelp green"), "name", name, desk)
    back = card.typed(desk.notebook.get(type(m), m.id), "name", name, desk)
    assert back == m


def test_take_back_on_pour_takes_the_last_act_whatever_panel_it_was_of(desk):
    from dribbet.bench.stations.pour.presenter import PourPresenter

    desk.choose_series("k4")
    first, second, *_ = [p for p in desk.need_run().in_order() if desk.need_run().poured_at(p) is None]
    at = desk.now()
    acts = (("b2", second, PanelWeight.BARE, 0.2), ("b1", first, PanelWeight.BARE, 0.2), ("w1", first, PanelWeight.POURED, 0.26))
    for id_, panel, kind, kg in acts:
        desk.notebook.add(PanelWeighing(id=id_, panel_id=panel.id, kind=kind, mass_kg=kg, at=at))
    desk.changed()
    pour = PourPresenter(desk)
    desk.take("pour", second.id)
    pour.take_back()
    assert desk.notebook.get(PanelWeighing, "w1").taken_back
    assert not desk.notebook.get(PanelWeighing, "b2").taken_back
    assert desk.in_hand("pour") == first.id
