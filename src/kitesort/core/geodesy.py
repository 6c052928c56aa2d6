"""Areas and lengths on the ellipsoid, whatever the coordinate system."""

import numpy as np
import numpy.typing as npt
from pyproj import CRS, Geod, Transformer

from kitesort.core.grid import SQUARE_METRES_PER_HECTARE, Grid, Window, parse_crs, unit_m
from kitesort.core.newest import remembered

Float64 = npt.NDArray[np.float64]
# Between its nodes the scale of a projection is taken as linear: so many pixels or metres apart.
LATTICE_PX, LATTICE_M = 64, 5_000.0
STEP_M = 100.0  # of differences


@remembered(64)
def geod_of(crs: str) -> Geod:
    """The ellipsoid of a CRS."""
    return parse_crs(crs).get_geod() or Geod(ellps="WGS84")


@remembered(64)
def _to_degrees(crs: str) -> Transformer:
    """To longitude and latitude on the CRS's own datum."""
    system = parse_crs(crs)
    geodetic = CRS.from_user_input(system.geodetic_crs or "EPSG:4326")
    return Transformer.from_crs(system, geodetic, always_xy=True)


def in_degrees(crs: str, x: Float64, y: Float64) -> tuple[Float64, Float64]:
    """Longitude and latitude (degrees) of places given in a CRS."""
    if parse_crs(crs).is_geographic:
        return x, y
    lon, lat = _to_degrees(crs).transform(x, y)
    return np.asarray(lon), np.asarray(lat)


def pixel_areas_ha(grid: Grid, window: Window) -> Float64:
    """Area in hectares of each pixel of a window, (rows, columns), on the ellipsoid; the same
    whatever the window.

    In degrees a pixel lies between two meridians and two parallels (closed form). In a projected
    CRS its area in the plane is multiplied by what a unit of the plane is on the ground, taken at
    the nodes of a lattice that is fixed to the grid, and linear between them.

    Source: J. P. Snyder 1987, Map Projections: A Working Manual, eq. 3-12 for the area of a zone
    of the ellipsoid, and eq. 4-18 and 4-20 for its radii of curvature (from memory; tests compare
    with pyproj's polygons).
    """
    if grid.is_geographic:
        rows = _zone_areas_ha(grid, window)
        return np.broadcast_to(rows[:, None], (window.height, window.width))
    width, height = grid.pixel_size
    return width * height * _ground_of(grid, window) / SQUARE_METRES_PER_HECTARE


def _zone_areas_ha(grid: Grid, window: Window) -> Float64:
    """Of one pixel in each row of a window in degrees."""
    geod = geod_of(grid.crs)
    rows = np.arange(window.row, window.row + window.height + 1)
    latitude = grid.transform.f + grid.transform.e * rows
    sine = np.sin(np.deg2rad(np.clip(latitude, -90, 90)))
    e = float(np.sqrt(geod.es))
    to_equator = sine if e == 0 else (
        (sine / (1 - geod.es * sine**2) + np.arctanh(e * sine) / e) * (1 - geod.es) / 2
    )  # fmt: skip
    span = np.deg2rad(grid.pixel_size[0])
    areas = span * geod.a**2 * np.abs(np.diff(to_equator)) / SQUARE_METRES_PER_HECTARE
    return np.asarray(areas, np.float64)


def _ground_of(grid: Grid, window: Window) -> Float64:
    """Square metres on the ellipsoid for a square unit of the plane, in the middle of pixels."""
    metres = max(grid.pixel_size) * unit_m(grid.crs)
    step = max(1, min(LATTICE_PX, int(LATTICE_M / metres)))
    rows = np.arange(window.row, window.row + window.height) + 0.5
    cols = np.arange(window.col, window.col + window.width) + 0.5
    first_r, first_c = int(rows[0] // step), int(cols[0] // step)
    node_r = step * np.arange(first_r, int(rows[-1] // step) + 2)
    node_c = step * np.arange(first_c, int(cols[-1] // step) + 2)
    x, y = np.meshgrid(
        grid.transform.c + grid.transform.a * node_c, grid.transform.f + grid.transform.e * node_r
    )
    scale = _ground_per_plane(grid, x, y)
    r, c = rows / step - first_r, cols / step - first_c
    at_r, at_c = r.astype(np.int64), c.astype(np.int64)
    part_r, part_c = (r - at_r)[:, None], (c - at_c)[None, :]
    upper = scale[at_r][:, at_c] * (1 - part_c) + scale[at_r][:, at_c + 1] * part_c
    lower = scale[at_r + 1][:, at_c] * (1 - part_c) + scale[at_r + 1][:, at_c + 1] * part_c
    return np.asarray(upper * (1 - part_r) + lower * part_r)


def _ground_per_plane(grid: Grid, x: Float64, y: Float64) -> Float64:
    """Square metres on the ellipsoid for a square unit of the plane, at places: the determinant of
    longitude and latitude over x and y (central differences) times the ellipsoid's two radii of
    curvature and the cosine of the latitude. Where nothing can be projected, the plane's own."""
    geod, h = geod_of(grid.crs), max(*grid.pixel_size, STEP_M / unit_m(grid.crs))
    east, west, north, south = (
        np.deg2rad(in_degrees(grid.crs, x + h * i, y + h * j))
        for i, j in ((1, 0), (-1, 0), (0, 1), (0, -1))
    )
    across, up = (east - west) / (2 * h), (north - south) / (2 * h)  # each longitude, latitude
    sine = np.sin(np.deg2rad(in_degrees(grid.crs, x, y)[1]))
    flat = 1 - geod.es * sine**2
    radii = geod.a**2 * (1 - geod.es) / flat**2
    ground = radii * np.sqrt(1 - sine**2) * np.abs(across[0] * up[1] - across[1] * up[0])
    return np.where(np.isfinite(ground) & (ground > 0), ground, unit_m(grid.crs) ** 2)


def step_lengths_m(crs: str, x: Float64, y: Float64) -> Float64:
    """Metres from each place (n,) to the next (n - 1,), along geodesics."""
    lon, lat = in_degrees(crs, x, y)
    return np.asarray(geod_of(crs).inv(lon[:-1], lat[:-1], lon[1:], lat[1:])[2])


def units_across_m(grid: Grid) -> tuple[float, float, float]:
    """Metres of a CRS unit, to the right, at the bottom, in the middle and at the top of a grid."""
    left, bottom, right, top = grid.bounds
    half = grid.pixel_size[0] / 2
    x = np.array([(left + right) / 2 - half, (left + right) / 2 + half])
    found = []
    for y in (bottom, (bottom + top) / 2, top):
        (metres,) = step_lengths_m(grid.crs, x, np.array([y, y]))
        usable = np.isfinite(metres) and metres > 0
        found.append(float(metres / (2 * half)) if usable else unit_m(grid.crs))
    return found[0], found[1], found[2]


def pixel_side_m(grid: Grid) -> float:
    """Side of a square with the area of the grid's middle pixel on the ellipsoid, in metres."""
    middle = Window(grid.height // 2, grid.width // 2, 1, 1)
    hectares = float(np.ravel(pixel_areas_ha(grid, middle))[0])
    return float(np.sqrt(hectares * SQUARE_METRES_PER_HECTARE))
