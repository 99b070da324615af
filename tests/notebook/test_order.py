"""What happened keeps its order, whatever the clock did."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta, timezone

import pytest

from dribbet.lab.plan import planning
from dribbet.notebook import open_notebook
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.schema import Instant, moment_of
from dribbet.notebook.store import new_id
from dribbet.records import Weighing, latest, order
from tests.made_up import NOON, series
from tests.notebook.test_store import planned, pour, reopened


@pytest.fixture
def set_back(notebook):
    """Five weighings, the clock set back two hours after the second."""
    _, _, mixes = planned(notebook)
    for n, minute in enumerate((0, 1, -118, -117, -116)):
        notebook.add(Weighing(id=f"w{n}", mix_id=mixes[0].id, ingredient="water", mass_kg=0.01, at=NOON + timedelta(minutes=minute)))
    return notebook


def names(book) -> list[str]:
    return [w.id for w in book.all(Weighing)]


def test_clock_set_back_reorders_nothing(set_back):
    assert names(set_back) == ["w0", "w1", "w2", "w3", "w4"]
    again = reopened(set_back)
    assert names(again) == ["w0", "w1", "w2", "w3", "w4"]
    assert latest(again.all(Weighing)).id == "w4"
    assert [w.at for w in again.all(Weighing)] != sorted(w.at for w in again.all(Weighing)), "times stay as the clock told them"
    again.close()


def test_order_goes_with_a_package_and_comes_after_what_is_there(set_back, tmp_path):
    export(set_back, tmp_path / "p.zip")
    target = open_notebook(tmp_path / "T.dribbet", create=True)
    other = series(id="s9", code="Z9", seed=1)
    mixes = planning.mixes(other, new_id)
    target.add(other, *mixes)
    target.add(*[pour(mixes[0], n) for n in (71, 72, 73, 77)])
    import_package(tmp_path / "p.zip", target)
    own = ["w71", "w72", "w73", "w77"]
    assert names(target) == [*own, "w0", "w1", "w2", "w3", "w4"]
    target.add(pour(mixes[0], 78))
    assert names(target)[-1] == "w78"
    again = reopened(target)
    assert names(again) == [*own, "w0", "w1", "w2", "w3", "w4", "w78"]
    again.close()


def test_correction_keeps_the_place_of_what_it_corrects(notebook):
    _, _, mixes = planned(notebook)
    notebook.add(pour(mixes[0], 1), pour(mixes[0], 2))
    notebook.replace(pour(mixes[0], 1, 0.02))  # a record that was never told its number
    notebook.add(pour(mixes[0], 3))
    again = reopened(notebook)
    assert names(again) == ["w1", "w2", "w3"]
    assert [w.number for w in again.all(Weighing)] == [1, 2, 3]
    again.close()


def test_one_number_runs_through_all_kinds_of_what_happened(notebook):
    from dribbet.records import MarkKind, MixMark

    _, _, mixes = planned(notebook)
    notebook.add(pour(mixes[0], 1))
    notebook.add(MixMark(id="m", mix_id=mixes[0].id, kind=MarkKind.STIRRED, at=NOON - timedelta(hours=3)))
    notebook.add(pour(mixes[0], 2))
    first, second = notebook.all(Weighing)
    (stir,) = notebook.all(MixMark)
    assert order(first) < order(stir) < order(second)


@pytest.mark.parametrize("year", [1, 800, 999, 1000, 9999])
def test_moment_of_any_year_is_written_so_that_it_is_read_again(year):
    moment = datetime(year, 6, 1, 12, 0, tzinfo=timezone(timedelta(hours=2)))
    text = Instant().process_bind_param(moment, None)
    assert moment_of(text) == moment
    assert len(text) == 32


@pytest.mark.parametrize("text", ["", "yesterday", "800-01-01T00:00:00.000000Z+0000", "2026-13-01T00:00:00.000000Z+0000", None, 5])
def test_text_that_is_no_moment_hides_no_other_row(notebook, text):
    with pytest.raises(ValueError, match=r"no moment|month|day"):
        moment_of(text)
    _, _, mixes = planned(notebook)
    notebook.add(pour(mixes[0], 1), pour(mixes[0], 2))
    if text is not None:
        with notebook.transaction() as connection:
            connection.exec_driver_sql("UPDATE weighing SET at = ? WHERE id = 'w1'", (text,))
        again = reopened(notebook)
        assert names(again) == ["w2"]
        assert "is no moment" in again.unreadable["weighing", "w1"]
        again.close()


def test_instant_sorts_by_moment_across_offsets():
    summer, winter = timezone(timedelta(hours=2)), timezone(timedelta(hours=1))
    early, late = datetime(2026, 10, 25, 2, 30, tzinfo=summer), datetime(2026, 10, 25, 2, 10, tzinfo=winter)  # the hour that comes twice
    texts = [Instant().process_bind_param(m, None) for m in (late, early)]
    assert sorted(texts) == texts[::-1]
    assert (late - early) == timedelta(minutes=40)
    assert moment_of(texts[0]).astimezone(UTC) == late
