"""Words that are the same for every study: what bands see, and known sensors."""

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel

from kitesort.api.routes import api_router
from kitesort.core.bands import RANGES_UM
from kitesort.core.delivery.sensors import KNOWN_SENSORS
from kitesort.core.roles import TITLES, nearest_role, usual_wavelength

router = api_router("vocabulary")


class RoleOut(BaseModel):
    """A role in words, its range and its usual wavelength in micrometres."""

    id: str
    title: str
    low_um: float
    high_um: float
    usual_um: float | None


class SensorBandOut(BaseModel):
    role: str
    wavelength_um: float


class KnownSensorOut(BaseModel):
    title: str
    bands: list[SensorBandOut]


class NearRoleOut(BaseModel):
    """The known role that a word probably means; None where none is like it."""

    role: str | None


@router.get("/roles")
def get_roles() -> list[RoleOut]:
    return [
        RoleOut(id=role, title=title, low_um=RANGES_UM[role][0], high_um=RANGES_UM[role][1],
                usual_um=usual_wavelength(role))
        for role, title in TITLES.items()
    ]  # fmt: skip


@router.get("/near-role")
def find_near_role(text: Annotated[str, Query(max_length=64)]) -> NearRoleOut:
    return NearRoleOut(role=nearest_role(text))


@router.get("/sensors")
def get_sensors() -> list[KnownSensorOut]:
    """Sensors with their bands as they are usually handed on, in order."""
    return [
        KnownSensorOut(
            title=sensor.title,
            bands=[
                SensorBandOut(role=band.role, wavelength_um=band.wavelength_um)
                for band in sensor.bands
            ],
        )
        for sensor in KNOWN_SENSORS
    ]
