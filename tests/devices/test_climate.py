"""The climate sensor: its open line format, its file, its table, and the practice one with its faults."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta, timezone

import pytest

from dribbet.devices import DeviceError, FileSensor, SimulatedSensor
from dribbet.devices.climate import from_table, parsed

NOW = datetime(2026, 11, 19, 14, 20, tzinfo=timezone(timedelta(hours=1)))


@pytest.mark.parametrize(
    ("line", "celsius", "damp"),
    [
        ("T=21.3 RH=48.2", 21.3, 0.482),
        ("2026-11-19T14:10:00+01:00 t: 20,RH : 55 %".replace("20,", "20.0 ,"), 20.0, 0.55),
        ("TEMP=68F;HUM=40", 20.0, 0.40),
        ("T=-3.5C;RH=90%", -3.5, 0.90),
    ],
)
def test_lines_say_temperature_and_damp(line, celsius, damp):
    found = parsed(line, NOW)
    assert (found.celsius, found.damp) == (pytest.approx(celsius), pytest.approx(damp))


def test_a_line_has_its_own_time_or_that_of_the_reading():
    assert parsed("T=20 RH=50", NOW).at == NOW
    assert parsed("2026-11-19T12:00:00Z T=20 RH=50", NOW).at == datetime(2026, 11, 19, 12, 0, tzinfo=UTC)
    assert parsed("2026-11-19 13:00 T=20 RH=50", NOW).at == NOW.replace(hour=13, minute=0)


@pytest.mark.parametrize("line", ["", "hello", "T=21", "RH=40", "T=90 RH=40", "T=20 RH=140"])
def test_what_is_no_reading_is_refused_with_what_to_do(line):
    with pytest.raises(DeviceError, match=r"T= and RH=|Check the sensor"):
        parsed(line, NOW)


def test_file_gives_its_last_line_and_says_when_the_sensor_has_stopped(tmp_path):
    path = tmp_path / "room.txt"
    sensor = FileSensor(path)
    with pytest.raises(DeviceError, match="cannot be read"):
        sensor.read(NOW)
    path.write_text("")
    with pytest.raises(DeviceError, match="is empty"):
        sensor.read(NOW)
    path.write_text("2026-11-19T13:00:00+01:00 T=19 RH=60\n2026-11-19T14:15:00+01:00 T=21 RH=45\n")
    assert sensor.read(NOW).celsius == 21.0
    with pytest.raises(DeviceError, match="nothing since 14:15"):
        sensor.read(NOW + timedelta(hours=2))


def test_practice_sensor_warms_by_day_and_misbehaves_now_and_then():
    sensor = SimulatedSensor(seed=1)
    day, night = sensor.read(NOW.replace(hour=15)), sensor.read(NOW.replace(hour=3))
    assert day.celsius > night.celsius + 2.0
    assert day.damp < night.damp
    assert sensor.read(NOW) == sensor.read(NOW)
    faulty = SimulatedSensor(seed=1, faults=True)
    failed = 0
    for i in range(200):
        try:
            faulty.read(NOW + timedelta(minutes=15 * i))
        except DeviceError:
            failed += 1
    assert 3 <= failed <= 30


def test_a_sensors_own_table_is_read_by_its_heads():
    comma = "Time,Temperature (°C),Humidity (%)\n2026-11-19 08:00,19.5,52\n2026-11-19 09:00,20.5,48\n"
    found = from_table(comma, NOW.tzinfo)
    assert [(r.celsius, r.damp) for r in found] == [(19.5, 0.52), (20.5, 0.48)]
    assert found[0].at == NOW.replace(hour=8, minute=0)
    semicolon = "timestamp;temp;rh\n2026-11-19T08:00:00Z;19,5;0,52\n\n"
    (one,) = from_table(semicolon, NOW.tzinfo)
    assert (one.celsius, one.damp) == (19.5, 0.52)
    fahrenheit = "time,temperature (f),humidity\n2026-11-19 08:00,68,50\n"
    assert from_table(fahrenheit, NOW.tzinfo)[0].celsius == pytest.approx(20.0)
    with pytest.raises(DeviceError, match="No column of this file is named like humidity"):
        from_table("time,temp\n", NOW.tzinfo)
    with pytest.raises(DeviceError, match="Line 3"):
        from_table("time,temp,rh\n2026-11-19 08:00,20,50\nnonsense,20,50\n", NOW.tzinfo)
