"""Scale, camera and climate sensor: one small protocol each, a real way in, and a simulated one that behaves and misbehaves like it."""

from dribbet.devices.camera import Camera, FolderCamera, Frame, Lapse, SimulatedCamera
from dribbet.devices.climate import AirReading, ClimateSensor, FileSensor, SimulatedSensor
from dribbet.devices.scale import DeviceError, Scale, ScaleFault, ScaleReading, SimulatedScale
from dribbet.devices.serial_scale import FORMATS, LineFormat, SerialScale, lines_there

__all__ = [
    "FORMATS",
    "AirReading",
    "Camera",
    "ClimateSensor",
    "DeviceError",
    "FileSensor",
    "FolderCamera",
    "Frame",
    "Lapse",
    "LineFormat",
    "Scale",
    "ScaleFault",
    "ScaleReading",
    "SerialScale",
    "SimulatedCamera",
    "SimulatedScale",
    "SimulatedSensor",
    "lines_there",
]
