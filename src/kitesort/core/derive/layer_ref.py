"""Layers of other scenes by name, and the condition under which they may be read together."""

from collections.abc import Iterable
from difflib import get_close_matches

from kitesort.core.errors import GridMismatchError, MissingRoleError
from kitesort.core.grid import Grid
from kitesort.core.grid_comparison import compare_grids
from kitesort.core.operation import Context, LayerRef
from kitesort.core.raster.joined import JoinedRaster, Member
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.warp import require_meeting


def find_layers(
    names: Iterable[str],
    raster: Raster,
    settings_layers: dict[str, LayerRef],
    context: Context,
) -> dict[str, LayerRef]:
    """Where the names that are not roles of the scene lie: as the settings say, else as the study
    names its layers now.

    Raises
    ------
    MissingRoleError : a name that is neither; the nearest known one is told.
    OutsideSceneError : a layer of another place.
    """
    found: dict[str, LayerRef] = {}
    for name in names:
        if name in roles_of(raster):
            continue
        ref = settings_layers.get(name) or context.layers.get(name)
        if ref is None:
            known = (*roles_of(raster), *context.layers)
            near = get_close_matches(name, known, 1, 0.5)
            hint = (
                f"Did you mean “{near[0]}”?" if near else f"It has {', '.join(roles_of(raster))}."
            )
            raise MissingRoleError(f"The scene has no band {name}. {hint}")
        require_meeting(context.open_layer(ref.scene_id).grid, raster.grid, name)
        found[name] = ref
    return found


def join_layers(
    names: tuple[str, ...],
    raster: Raster,
    layers: dict[str, LayerRef],
    context: Context,
    align: bool,
) -> Raster:
    """The scene's own bands and the layers found elsewhere, as one raster with these names.

    Raises
    ------
    GridMismatchError : a layer lies on another grid and ``align`` is not set.
    MissingRoleError
    """
    if not layers:
        return raster
    members = []
    for name in names:
        ref = layers.get(name)
        source = raster if ref is None else context.open_layer(ref.scene_id)
        role = name if ref is None else ref.role
        if role not in roles_of(source):
            raise MissingRoleError(f"The layer behind {name} has no band {role} any more.")
        if not align:
            require_same_grid(raster.grid, source.grid, name)
        members.append(Member(name, source, role))
    return JoinedRaster(tuple(members), raster.grid)


def require_same_grid(grid: Grid, other: Grid, name: str) -> None:
    """Raises GridMismatchError with what differs and what can be done."""
    differences = compare_grids(grid, other, "this scene", name)
    if differences:
        raise GridMismatchError(
            f"{name} lies on another grid. {differences[0].sentence} Allow other grids to bring it "
            "onto this scene's, by its nearest pixels."
        )
