"""Stand-ins behave and misbehave like the real thing."""

from __future__ import annotations

import numpy as np
import pytest

from dribbet.devices import Camera, DeviceError, FolderCamera, Lapse, Scale, SimulatedCamera, SimulatedScale
from dribbet.records import Lamp, Stage


def watch(scale: SimulatedScale, start_s: float, seconds: float, step_s: float = 0.05) -> list:
    return [scale.read(start_s + i * step_s) for i in range(round(seconds / step_s))]


def test_scale_settles_before_it_says_steady():
    scale: Scale = SimulatedScale(seed=1)
    scale.read(0.0)
    scale.put(0.050)
    readings = watch(scale, 0.05, 4.0)
    assert not readings[2].steady
    assert readings[2].mass_kg < 0.045
    assert readings[-1].steady
    assert readings[-1].mass_kg == pytest.approx(0.050, abs=0.2e-3)


def test_readings_come_in_the_scales_steps():
    scale = SimulatedScale(seed=2)
    scale.put(0.0337)
    for reading in watch(scale, 0.0, 2.0):
        assert reading.mass_kg / scale.step_kg == pytest.approx(round(reading.mass_kg / scale.step_kg), abs=1e-6)


def test_scale_is_noisy_and_drifts():
    scale = SimulatedScale(seed=3)
    scale.put(0.2)
    watch(scale, 0.0, 5.0)
    raw = [v for _, v in scale._past][-10:]  # settled by then
    assert 0.0 < np.std(raw) < 0.1e-3
    late = scale.read(600.0)
    assert late.mass_kg - 0.2 == pytest.approx(600.0 * 0.4e-6, abs=0.15e-3)


def test_stream_runs_until_it_is_stopped_and_is_not_steady():
    scale = SimulatedScale(seed=4)
    scale.read(0.0)
    scale.pour(9e-3)
    assert not any(r.steady for r in watch(scale, 0.05, 3.0))
    scale.stop()
    after = watch(scale, 3.1, 3.0)[-1]
    assert after.steady
    assert after.mass_kg == pytest.approx(0.027, abs=1e-3)


def test_tare_sets_the_display_to_zero():
    scale = SimulatedScale(seed=5)
    scale.put(0.1)
    watch(scale, 0.0, 3.0)
    scale.tare(3.0)
    assert watch(scale, 3.0, 2.0)[-1].mass_kg == pytest.approx(0.0, abs=0.15e-3)
    scale.drip()
    assert watch(scale, 5.0, 2.0)[-1].mass_kg == pytest.approx(0.1e-3, abs=0.15e-3)


def test_too_much_is_said():
    scale = SimulatedScale(capacity_kg=0.5)
    scale.put(0.6)
    assert scale.read(0.0).overload


def test_lost_scale_says_so_and_what_was_poured_meanwhile_is_there_afterwards():
    scale = SimulatedScale(seed=6)
    scale.put(0.05)
    watch(scale, 0.0, 2.0)
    scale.lose()
    with pytest.raises(DeviceError, match="Your cup is safe"):
        scale.read(2.0)
    scale.put(0.01)
    scale.mend()
    assert watch(scale, 3.0, 4.0)[-1].mass_kg == pytest.approx(0.06, abs=0.3e-3)


def test_scale_of_one_seed_always_reads_the_same():
    a, b = (SimulatedScale(seed=7) for _ in range(2))
    for scale in (a, b):
        scale.put(0.03)
    assert watch(a, 0.0, 3.0) == watch(b, 0.0, 3.0)


def test_camera_hands_over_what_lies_before_it():
    asked = []

    def render(subject: str, lamp: Lamp, lapse: Lapse, laid: int, stage: Stage) -> bytes:
        asked.append((subject, lamp, lapse, laid, stage))
        return b"picture"

    camera: Camera = SimulatedCamera(render)
    frame = camera.shoot("K3-a1", Lamp.LEFT, 2, Stage.WET)
    assert frame.data == b"picture"
    assert frame.name.endswith("K3-a1-left.jpg")
    assert asked == [("K3-a1", Lamp.LEFT, Lapse.NONE, 2, Stage.WET)]


def test_camera_slips_now_and_then():
    lapses = []
    camera = SimulatedCamera(lambda s, lamp, lapse, laid, stage: lapses.append(lapse) or b"", seed=1, lapses=0.5)
    for _ in range(60):
        camera.shoot("x", Lamp.DIFFUSE)
    assert set(lapses) == set(Lapse)
    assert 15 < sum(lapse is not Lapse.NONE for lapse in lapses) < 45


def test_lost_camera_says_what_to_do():
    camera = SimulatedCamera(lambda *_: b"")
    camera.lose()
    with pytest.raises(DeviceError, match="bring photos in from files"):
        camera.shoot("x", Lamp.DIFFUSE)
    camera.mend()
    assert camera.shoot("x", Lamp.DIFFUSE).data == b""


def test_camera_folder_hands_over_the_newest_new_picture_once(tmp_path):
    (tmp_path / "old.jpg").write_bytes(b"old")
    camera = FolderCamera(tmp_path, (".jpg",))
    with pytest.raises(DeviceError, match="No new photo"):
        camera.shoot("x", Lamp.DIFFUSE)
    (tmp_path / "new.jpg").write_bytes(b"new")
    (tmp_path / "notes.txt").write_bytes(b"no picture")
    assert camera.shoot("x", Lamp.DIFFUSE).data == b"new"
    with pytest.raises(DeviceError, match="No new photo"):
        camera.shoot("x", Lamp.DIFFUSE)


def test_camera_folder_that_is_gone_is_said(tmp_path):
    camera = FolderCamera(tmp_path, (".jpg",))
    tmp_path.rmdir()
    with pytest.raises(DeviceError, match="cannot be read"):
        camera.shoot("x", Lamp.DIFFUSE)
