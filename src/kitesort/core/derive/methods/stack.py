"""Bands and layers, of whatever scenes, as one input with names."""

from pydantic import Field

from kitesort.core.delivery.scene import ROLE_PATTERN
from kitesort.core.derive.layer_ref import require_same_grid
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError, MissingRoleError
from kitesort.core.operation import ANY_KIND, Context, LayerRef, Operation, of_one
from kitesort.core.raster.joined import JoinedRaster, Member
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.warp import require_meeting
from kitesort.core.settings import Settings


class StackMember(LayerRef):
    """A band of a scene and what it is called in the stack; its role where nothing is said."""

    name: str = Field("", pattern=f"^({ROLE_PATTERN.pattern})?$")


class StackSettings(Settings):
    members: tuple[StackMember, ...] = Field(
        (),
        title="Layers",
        description="In this order; names tell them apart in formulas and classifiers.",
        max_length=64,
        json_schema_extra={"widget": "members"},
    )
    align: bool = Field(
        False,
        title="Allow other grids",
        description="Layers on another grid are brought onto that of the first, nearest pixel.",
        json_schema_extra={"widget": "align"},
    )


def _prepare(raster: Raster, settings: StackSettings, context: Context, _: Watch) -> StackSettings:
    if not settings.members:
        raise BadSettingsError("Choose at least one layer.")
    names: list[str] = []
    for member in settings.members:
        source = context.open_layer(member.scene_id)
        if member.role not in roles_of(source):
            raise MissingRoleError(
                f"There is no band {member.role}. The layer has {', '.join(roles_of(source))}."
            )
        require_meeting(source.grid, raster.grid, member.name or member.role)
        if not settings.align:
            require_same_grid(raster.grid, source.grid, member.name or member.role)
        names.append(_free_name(member, names))
    members = tuple(
        m.model_copy(update={"name": name}) for m, name in zip(settings.members, names, strict=True)
    )
    return settings.model_copy(update={"members": members})


def _free_name(member: StackMember, taken: list[str]) -> str:
    """The wanted name; roles that occur twice get a number, doubled typed names are refused."""
    if member.name:
        if member.name in taken:
            raise BadSettingsError(f"Two layers are called {member.name}. Rename one of them.")
        return member.name
    base = member.role[:28]
    tries = (base if n == 1 else f"{base}_{n}" for n in range(1, len(taken) + 2))
    return next(name for name in tries if name not in taken)


def _derive(raster: Raster, settings: StackSettings, context: Context) -> Raster:
    opened = {m.scene_id: context.open_layer(m.scene_id) for m in settings.members}
    members = tuple(Member(m.name, opened[m.scene_id], m.role) for m in settings.members)
    return JoinedRaster(members, raster.grid)


def _say(settings: StackSettings) -> str:
    return f"a stack of {', '.join(m.name or m.role for m in settings.members)}"


SPEC = Operation(
    id="stack",
    version=1,
    station="derive",
    title="Stack",
    good_for="One input for a classifier, or three layers as red, green and blue.",
    source="Nothing is computed: the layers' own pixels under one roof",
    settings=StackSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda s: f"Stack of {len(s.members)} layers",
    prepare=of_one(_prepare),
    first_of=lambda s: s.members[0].scene_id if s.members else None,
    others=lambda s: tuple(dict.fromkeys(m.scene_id for m in s.members)),
    takes=ANY_KIND,
)
