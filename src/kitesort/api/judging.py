"""Training sites judged, advice, and acts over many sites."""

from dataclasses import asdict
from typing import Any

from fastapi import Response

from kitesort.api.judging_schemas import (
    ActedOut,
    CarriedOut,
    CarriedSiteOut,
    JudgementOut,
    NextPlaceOut,
    OddPixelsOut,
    SetAside,
    SiteActs,
)
from kitesort.api.long_list import long_answer
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.api.training import MethodQuery, RolesQuery, parse_roles
from kitesort.store.layers import require_in_study
from kitesort.store.studies import get_study
from kitesort.study.carrying import carry_sites
from kitesort.study.judging import JudgedSite, judge, odd_pixels
from kitesort.study.method import parse_method
from kitesort.study.site_acts import ActOrder, act_on_sites, set_aside
from kitesort.study.where_next import next_places

router = api_router("training")


@router.get("/studies/{study_id}/judgement", response_model=JudgementOut)
def get_judgement(study_id: Id, scene_id: Id, roles: RolesQuery = "") -> Response:
    """What is odd about which site, those in doubt first, and what would help most."""
    require_in_study(study_id, [scene_id])
    found = judge(study_id, scene_id, parse_roles(scene_id, roles))
    return long_answer(
        f"judgement {found.key}",
        lambda: {
            "version": found.state.version,
            "sites": [_judged_row(one) for one in found.sites],
            "advice": [asdict(one) for one in found.advice],
        },
    )


@router.get("/studies/{study_id}/odd-pixels")
def get_odd_pixels(study_id: Id, scene_id: Id, site_id: Id, roles: RolesQuery = "") -> OddPixelsOut:
    """Where the unusual pixels of a site lie: an outline along their edges, in the study's CRS."""
    require_in_study(study_id, [scene_id])
    outline, n = odd_pixels(study_id, scene_id, parse_roles(scene_id, roles), site_id)
    return OddPixelsOut(geometry=outline, n_pixels=n)


@router.get("/studies/{study_id}/next-places")
def get_next_places(
    study_id: Id, scene_id: Id, roles: RolesQuery = "", method: MethodQuery = ""
) -> list[NextPlaceOut]:
    """Where another site would teach most: up to ten places, the most doubtful first."""
    require_in_study(study_id, [scene_id])
    return [
        NextPlaceOut(
            x=one.x, y=one.y, reason=one.reason, codes=one.place.codes, strange=one.place.strange
        )
        for one in next_places(
            study_id, scene_id, parse_roles(scene_id, roles), parse_method(method)
        )
    ]


@router.get("/studies/{study_id}/carried")
def get_carried_sites(
    study_id: Id, scene_id: Id, other_id: Id, roles: RolesQuery = ""
) -> CarriedOut:
    """The sites of a scene in another one: which have pixels there, and whose cover seems to have
    changed."""
    require_in_study(study_id, [scene_id, other_id])
    found = carry_sites(study_id, scene_id, other_id, parse_roles(scene_id, roles))
    return CarriedOut(
        scene_id=found.scene_id,
        grids=list(found.grids),
        sites=[
            CarriedSiteOut(
                id=one.site_id,
                title=one.title,
                changed=one.carried.changed,
                oddness=one.carried.there.oddness,
                like=one.carried.there.like,
                like_share=one.carried.there.like_share,
                mean_here=list(one.carried.here.mean),
                mean_there=list(one.carried.there.mean),
            )
            for one in found.sites
        ],
        lost=list(found.lost),
    )


@router.post("/studies/{study_id}/site-acts")
def act_on_many(study_id: Id, body: SiteActs) -> ActedOut:
    """One act over many sites, undone as one: to all of them, or to none."""
    get_study(study_id)
    require_in_study(study_id, [body.scene_id])
    order = ActOrder(
        act=body.act,
        site_ids=tuple(body.site_ids),
        scene_id=body.scene_id,
        roles=parse_roles(body.scene_id, ",".join(body.roles)),
        class_id=body.class_id,
        line=tuple(body.line),
    )
    return ActedOut(site_ids=act_on_sites(study_id, order))


@router.post("/studies/{study_id}/sites-aside")
def set_sites_aside(study_id: Id, body: SetAside) -> ActedOut:
    """Set a share of each class's sites aside at random; they never train."""
    get_study(study_id)
    return ActedOut(site_ids=set_aside(study_id, body.share, body.seed))


def _judged_row(one: JudgedSite) -> dict[str, Any]:
    """A judged site as the fields of its schema."""
    figures = one.figures
    return {
        "id": one.site.id,
        "title": one.title,
        "n_pixels": figures.n_pixels,
        "spread": figures.spread,
        "oddness": figures.oddness,
        "like": figures.like,
        "like_share": figures.like_share,
        "n_odd": figures.n_odd,
    }
