"""Coordinate systems by code or name, from the database that ships with PROJ."""

import re
from dataclasses import dataclass

from pyproj.aoi import AreaOfUse
from pyproj.database import query_crs_info
from pyproj.enums import PJType
from pyproj.exceptions import CRSError

from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import parse_crs
from kitesort.core.newest import remembered

KINDS = [PJType.PROJECTED_CRS, PJType.GEOGRAPHIC_2D_CRS]


@dataclass(frozen=True)
class CrsEntry:
    """A coordinate system as it is offered: code, name, and where it is meant to be used."""

    code: str
    name: str
    area: str


def _area(used: AreaOfUse | None) -> str:
    return (used.name or "") if used else ""


@remembered(1)
def _all_entries() -> tuple[CrsEntry, ...]:
    return tuple(
        CrsEntry(f"EPSG:{info.code}", info.name, _area(info.area_of_use))
        for info in query_crs_info("EPSG", KINDS)
    )


def search_crs(text: str, limit: int = 20) -> list[CrsEntry]:
    """Entries whose code begins with the number, or whose name and area hold every word."""
    number = re.fullmatch(r"\s*(?:epsg\s*:?\s*)?(\d+)\s*", text.casefold())
    if number:
        hits = [e for e in _all_entries() if e.code.removeprefix("EPSG:").startswith(number[1])]
        return sorted(hits, key=lambda e: (len(e.code), e.code))[:limit]
    words = text.casefold().split()
    if not words:
        return []
    hits = [e for e in _all_entries() if all(w in f"{e.name} {e.area}".casefold() for w in words)]
    return sorted(hits, key=lambda e: (len(e.name), e.name))[:limit]


def require_crs(code: str) -> str:
    """The code as it is kept.

    Raises
    ------
    BadSettingsError : no such coordinate system, or one in which nothing can be mapped.
    """
    try:
        crs = parse_crs(code.strip().upper())
    except CRSError as error:
        raise BadSettingsError(
            f"There is no coordinate system “{code}”. Give a code such as EPSG:32625, or search "
            "by name."
        ) from error
    if not (crs.is_projected or crs.is_geographic):
        raise BadSettingsError(f"{crs.name} is no system for maps. Choose another one.")
    epsg = crs.to_epsg()
    return f"EPSG:{epsg}" if epsg else str(crs.to_wkt())
