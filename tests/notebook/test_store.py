from __future__ import annotations

import threading
from dataclasses import replace
from typing import TYPE_CHECKING

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.plan import design, planning
from dribbet.notebook import NotebookError, open_notebook
from dribbet.notebook.mapping import TABLES, record_of, row_of
from dribbet.notebook.schema import Instant
from dribbet.records import (
    Advice,
    Constants,
    Design,
    Equal,
    Extra,
    Factor,
    Insisted,
    Judging,
    Layout,
    Level,
    Material,
    Mix,
    Panel,
    Prediction,
    Response,
    Series,
    Wanted,
    Weighing,
)
from tests import strategies
from tests.made_up import NOON, ids, series

if TYPE_CHECKING:
    import sqlite3


FULL_LAYOUT = Layout(
    design=Design.EVERY, centre_points=0, blocks=2, extras=(Extra(settings=(0, 1), instead=((Factor.RATIO, Level(value=1.5)),), why="paint share"),)
)


def planned(book, s: Series | None = None) -> tuple[Series, list[Panel], list[Mix]]:
    s = s or series(seed=1)
    panels, mixes = list(design.panels(s, ids("p"))), planning.mixes(s, ids("m"))
    book.add(s, *panels, *mixes)
    return s, panels, mixes


def pour(mix: Mix, number: int, kg: float = 0.01) -> Weighing:
    return Weighing(id=f"w{number}", mix_id=mix.id, ingredient="water", mass_kg=kg, at=NOON)


def reopened(book):
    folder = book.folder
    book.close()
    return open_notebook(folder)


def test_what_was_written_is_read_again_after_closing(notebook):
    s = series(
        prediction=Prediction(response=Response.SPREAD, more_or_less=Wanted.MORE, size=4.0, locked_at=NOON), crossed=Factor.MEDIUM,
        crossed_levels=(Level(name="glue"), Level(name="conditioner")), layout=FULL_LAYOUT, equal=Equal.FLOW, prices=(("glue", 9.5),),
        protocol=(Judging(response=Response.SPREAD, times=("wet", "dry")),), insisted=(Insisted(against=Advice.CONTROL, of="silicone", at=NOON),),
        constants=Constants(silicone_colours=("teal",)), seed=3,
    )  # fmt: skip
    _, panels, mixes = planned(notebook, s)
    again = reopened(notebook)
    assert again.get(Series, s.id) == s
    assert again.all(Panel) == panels
    assert again.all(Mix) == mixes
    again.close()


@given(moment=strategies.moments)
def test_moments_keep_their_instant_and_their_offset(moment):
    text = Instant().process_bind_param(moment, None)
    found = Instant().process_result_value(text, None)
    assert found == moment
    assert found.utcoffset() == moment.utcoffset()


@given(a=strategies.moments, b=strategies.moments)
def test_moments_sort_as_text(a, b):
    first, second = (Instant().process_bind_param(m, None)[:26] for m in (a, b))
    assert (first < second) == (a < b)


@given(kg=st.floats(0.0, 1e3), taken_back=st.booleans(), at=strategies.moments)
def test_record_comes_back_from_its_row(kg, taken_back, at):
    w = Weighing(id="w", mix_id="m", ingredient="water", mass_kg=kg, at=at, taken_back=taken_back)
    assert record_of(Weighing, row_of(w)) == w


def test_every_record_kind_has_columns_for_all_its_fields():
    for kind, table in TABLES.items():
        assert set(kind.__dataclass_fields__) <= {c.name for c in table.columns}, kind


def test_quantities_in_the_tables_are_si():
    names = {c.name for table in TABLES.values() for c in table.columns}
    assert not {n for n in names if n.endswith(("_g", "_mm", "_ml", "_oz", "_in", "_f"))}


def test_failed_transaction_leaves_no_trace(notebook):
    _, _, mixes = planned(notebook)

    def fail() -> None:
        with notebook.transaction():
            notebook.add(pour(mixes[0], 1))
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fail()
    assert notebook.all(Weighing) == []
    again = reopened(notebook)
    assert again.all(Weighing) == []
    again.close()


def test_row_without_its_parent_is_refused(notebook):
    with pytest.raises(NotebookError, match="Nothing was changed"):
        notebook.add(Weighing(id="w", mix_id="nowhere", ingredient="water", mass_kg=0.01, at=NOON))
    assert notebook.all(Weighing) == []


def test_correction_keeps_the_old_value(notebook):
    _, _, mixes = planned(notebook)
    first = pour(mixes[0], 1, 0.010)
    notebook.add(first)
    notebook.replace(replace(first, mass_kg=0.012))
    notebook.replace(replace(first, mass_kg=0.012))  # no change, no entry
    assert notebook.all(Weighing)[0].mass_kg == 0.012
    (entry,) = notebook.changes("w1")
    assert entry["before"]["mass_kg"] == 0.010


def test_replacing_what_is_gone_says_so(notebook):
    planned(notebook)
    with pytest.raises(NotebookError, match="no longer in the notebook"):
        notebook.replace(Weighing(id="gone", mix_id="m1", ingredient="water", mass_kg=0.01, at=NOON))
    with pytest.raises(NotebookError, match="no longer in the notebook"):
        notebook.get(Series, "gone")


def test_records_are_found_by_their_fields_in_order(notebook):
    _, panels, mixes = planned(notebook)
    notebook.add(pour(mixes[1], 2), pour(mixes[0], 1), pour(mixes[1], 3))
    assert [w.id for w in notebook.all(Weighing, mix_id=mixes[1].id)] == ["w2", "w3"]
    assert {w.id for w in notebook.among(Weighing, "mix_id", [m.id for m in mixes[:2]])} == {"w1", "w2", "w3"}
    assert notebook.all(Panel, series_id="s1", recipe="b") == [p for p in panels if p.recipe == "b"]


def test_what_is_remembered_follows_every_write(notebook):
    _, _, mixes = planned(notebook)
    assert notebook.all(Weighing, mix_id=mixes[0].id) == []
    notebook.add(pour(mixes[0], 1))
    assert len(notebook.all(Weighing, mix_id=mixes[0].id)) == 1
    notebook.replace(replace(pour(mixes[0], 1), mix_id=mixes[1].id))
    assert notebook.all(Weighing, mix_id=mixes[0].id) == []


def test_second_window_reads_only_and_sees_what_the_first_writes(notebook):
    _, _, mixes = planned(notebook)
    second = open_notebook(notebook.folder)
    assert second.read_only
    assert second.all(Weighing) == []
    notebook.add(pour(mixes[0], 1))
    assert len(second.all(Weighing)) == 1
    with pytest.raises(NotebookError, match="only reads"):
        second.add(pour(mixes[0], 2))
    second.close()
    notebook.add(pour(mixes[0], 3))


def test_when_the_first_window_closes_the_next_may_write(notebook):
    planned(notebook)
    notebook.close()
    second = open_notebook(notebook.folder)
    assert not second.read_only
    second.close()


def test_threads_take_turns_to_write(notebook):
    _, _, mixes = planned(notebook)

    def write(start: int) -> None:
        for i in range(20):
            notebook.add(pour(mixes[0], start + i))

    threads = [threading.Thread(target=write, args=(100 * t,)) for t in range(4)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert len(notebook.all(Weighing)) == 80


def test_settings_are_remembered_and_overwritten(notebook):
    assert notebook.setting("units", {"mass": "g"}) == {"mass": "g"}
    notebook.put_setting("units", {"mass": "oz"})
    notebook.put_setting("units", {"mass": "g"})
    assert notebook.setting("units") == {"mass": "g"}


def test_plan_that_nothing_was_done_with_can_be_removed_but_no_other(notebook):
    _, _, mixes = planned(notebook)
    notebook.remove_plan("s1")
    assert notebook.all(Panel) == notebook.all(Mix) == []
    s = notebook.get(Series, "s1")
    notebook.add(*design.panels(s, ids("q")), *mixes)
    notebook.add(pour(mixes[0], 1))
    with pytest.raises(NotebookError):
        notebook.remove_plan("s1")
    assert notebook.all(Mix) == mixes


def test_database_runs_in_wal_mode_with_foreign_keys(notebook):
    with notebook._engine.connect() as connection:
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        assert connection.exec_driver_sql("PRAGMA foreign_keys").scalar() == 1


def test_material_names_are_unique(notebook):
    made = Material(id="1", name="foam", kind="paint", hex="#FFFFFF", density_kg_m3=1300.0, volume_solids=0.4)
    notebook.add(made)
    with pytest.raises(NotebookError):
        notebook.add(replace(made, id="2"))


def test_notebook_that_is_not_there_names_the_way_to_start_one(tmp_path):
    with pytest.raises(NotebookError, match="start one with"):
        open_notebook(tmp_path / "none.dribbet")


def test_damaged_database_names_the_remedy(notebook):
    folder = notebook.folder
    notebook.close()
    (folder / "notebook.sqlite3").write_bytes(b"no database at all" * 100)
    for ending in ("-wal", "-shm"):
        (folder / f"notebook.sqlite3{ending}").unlink(missing_ok=True)
    with pytest.raises(NotebookError, match="damaged"):
        open_notebook(folder)


def test_full_disk_is_said_and_nothing_is_lost(notebook, monkeypatch):
    _, _, mixes = planned(notebook)
    with notebook._engine.connect() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
    notebook._engine.dispose()

    from sqlalchemy import event

    @event.listens_for(notebook._engine, "connect")
    def _small(connection: sqlite3.Connection, _record: object) -> None:
        connection.execute(f"PRAGMA max_page_count = {pages}")  # SQLite then answers as on a full disk

    with pytest.raises(NotebookError, match="disk is full"):
        notebook.add(*[pour(mixes[0], n) for n in range(3000)])
    assert notebook.all(Weighing) == []
