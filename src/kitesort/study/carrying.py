"""Sites of one scene carried to others: grids in words, pixels drawn again, what has changed."""

from dataclasses import dataclass

from kitesort.core.grid_comparison import compare_grids
from kitesort.core.training.carried import Carried, carry
from kitesort.study.judging import judge
from kitesort.study.rasters import layer_record, open_layer


@dataclass(frozen=True)
class CarriedSite:
    """A site by its id and name in lists, here and there."""

    site_id: int
    title: str
    carried: Carried


@dataclass(frozen=True)
class CarriedScene:
    """What becomes of the sites in another scene: sentences where grids differ; the sites with
    pixels in both; ids of those that have none there."""

    scene_id: int
    grids: tuple[str, ...]
    sites: tuple[CarriedSite, ...]
    lost: tuple[int, ...]


def carry_sites(
    study_id: int, scene_id: int, other_id: int, roles: tuple[str, ...]
) -> CarriedScene:
    """The sites of a scene in another one, by the same bands.

    Raises
    ------
    MissingRoleError : the other scene lacks a band.
    """
    here = {one.site.id: one for one in judge(study_id, scene_id, roles).sites}
    there = {one.site.id: one for one in judge(study_id, other_id, roles).sites}
    differences = compare_grids(
        open_layer(scene_id).grid,
        open_layer(other_id).grid,
        layer_record(scene_id).title,
        layer_record(other_id).title,
    )
    both = [i for i in here if i in there]
    return CarriedScene(
        other_id,
        tuple(one.sentence for one in differences),
        tuple(
            CarriedSite(i, here[i].title, carry(here[i].figures, there[i].figures)) for i in both
        ),
        tuple(
            one.site.id for i, one in here.items() if i not in there and one.site.true_on is None
        ),
    )
