"""Classes, sites, training state and the live class map."""

from typing import Annotated, Any

from fastapi import Query, Request, Response

from kitesort.api.long_list import long_answer
from kitesort.api.pictures import CHECK_FIRST, IMMUTABLE, picture_response
from kitesort.api.routes import api_router
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import (
    BandAdviceOut,
    BandSubsetOut,
    ClassCreate,
    ClassPatch,
    ClassTrainingOut,
    ContestedOut,
    EditStateOut,
    Id,
    LiveOut,
    PairOut,
    RoundOut,
    SiteCreate,
    SiteOut,
    SitePatch,
    TrainingOut,
    UpperQuery,
)
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.display.tile import render_classes
from kitesort.core.errors import NotFoundError, SiteError
from kitesort.core.group_statistics import USUAL_MINIMUM_PER_BAND
from kitesort.core.legend import ClassCode
from kitesort.store import edits, scheme, sites
from kitesort.store.database import transaction
from kitesort.store.layers import require_in_study
from kitesort.store.records import LandClass, Site
from kitesort.store.studies import get_study
from kitesort.study.drawn_sites import is_true_in
from kitesort.study.method import parse_method
from kitesort.study.pairs import (
    best_bands,
    hardest_pairs,
    pair_bands,
    starved_classes,
    untold_classes,
)
from kitesort.study.rasters import layer_record, open_layer, usable_tile
from kitesort.study.readout import default_roles
from kitesort.study.site_reading import SiteSummary, site_summary, summaries
from kitesort.study.training import (
    TrainingState,
    latest_trained,
    remembered_state,
    rounds_so_far,
    training_state,
)
from kitesort.study.upper_level import colours_at

router = api_router("training")
# A request's first line may have 64 kB: of plain characters each takes three at most there.
MOST_QUERY, PLAIN = 18_000, "^[ -~]*$"
MethodQuery = Annotated[
    str,
    Query(
        max_length=MOST_QUERY,
        pattern=PLAIN,
        description="the method in hand as JSON: id, settings, seed; empty: the usual one",
    ),
]
RolesQuery = Annotated[str, Query(description="roles with commas between; empty: the usual ones")]
CodeQuery = Annotated[ClassCode | None, Query()]
ExpectedQuery = Annotated[int | None, Query(description="the edit that is meant; it and no other")]


@router.get("/studies/{study_id}/classes")
def get_classes(study_id: Id) -> list[LandClass]:
    get_study(study_id)
    return scheme.list_classes(study_id)


@router.post("/studies/{study_id}/classes", status_code=201)
def create_class(study_id: Id, body: ClassCreate) -> LandClass:
    return scheme.create_class(study_id, body.name, body.colour, body.description)


@router.patch("/classes/{class_id}")
def update_class(class_id: Id, body: ClassPatch) -> LandClass:
    return scheme.update_class(class_id, body.changes)


@router.delete("/classes/{class_id}", status_code=204)
def delete_class(class_id: Id) -> None:
    scheme.delete_class(class_id)


@router.get("/studies/{study_id}/sites", response_model=list[SiteOut])
def get_sites(study_id: Id, scene_id: Id) -> Response:
    require_in_study(study_id, [scene_id])
    found, roles = sites.list_sites(study_id), default_roles(scene_id)

    def rows() -> list[dict[str, Any]]:
        summary_of = summaries(study_id, scene_id, roles, found)
        pairs = zip(found, summary_of, strict=True)
        return [_site_row(site, scene_id, summary) for site, summary in pairs]

    acquired = layer_record(scene_id).acquired
    return long_answer(f"sites {found.version} {scene_id} {roles} {acquired}", rows)


@router.post("/studies/{study_id}/sites", status_code=201)
def create_site(study_id: Id, scene_id: Id, body: SiteCreate) -> SiteOut:
    """Keep a drawn outline; one that cannot be used is kept too and says why. With the answer, or
    not at all."""
    get_study(study_id)
    require_in_study(study_id, [scene_id])
    _require_outline(scene_id, body.geometry)
    with transaction():
        site = sites.create_site(study_id, body.class_id, body.geometry, body.note, body.key)
        return _site_out(site, scene_id)


@router.patch("/sites/{site_id}")
def update_site(site_id: Id, scene_id: Id, body: SitePatch) -> SiteOut:
    require_in_study(sites.get_site(site_id).study_id, [scene_id])
    if body.geometry is not None:
        _require_outline(scene_id, body.geometry)
    with transaction():
        return _site_out(sites.update_site(site_id, body.changes, body.version), scene_id)


@router.delete("/sites/{site_id}", status_code=204)
def delete_site(site_id: Id) -> None:
    sites.delete_site(site_id)


@router.get("/studies/{study_id}/edits")
def get_edits(study_id: Id) -> EditStateOut:
    get_study(study_id)
    return EditStateOut.model_validate(edits.edit_state(study_id), from_attributes=True)


@router.post("/studies/{study_id}/undo")
def undo_edit(study_id: Id, expected: ExpectedQuery = None) -> EditStateOut:
    get_study(study_id)
    return EditStateOut.model_validate(edits.undo(study_id, expected), from_attributes=True)


@router.post("/studies/{study_id}/redo")
def redo_edit(study_id: Id, expected: ExpectedQuery = None) -> EditStateOut:
    get_study(study_id)
    return EditStateOut.model_validate(edits.redo(study_id, expected), from_attributes=True)


@router.get("/studies/{study_id}/training")
def get_training(
    study_id: Id, scene_id: Id, roles: RolesQuery = "", method: MethodQuery = ""
) -> TrainingOut:
    get_study(study_id)
    wanted = parse_roles(scene_id, roles)
    return _training_out(training_state(study_id, scene_id, wanted, parse_method(method)))


@router.get("/studies/{study_id}/band-subsets")
def get_band_subsets(
    study_id: Id,
    scene_id: Id,
    roles: RolesQuery = "",
    limit: Annotated[float, Query(gt=0, lt=2)] = 1.9,
    code: CodeQuery = None,
    other_code: CodeQuery = None,
) -> BandAdviceOut:
    """For each number of bands those that tell the classes apart best, from the training pixels;
    of two classes alone where their codes are given."""
    require_in_study(study_id, [scene_id])
    wanted = parse_roles(scene_id, roles)
    if code is None or other_code is None or code == other_code:
        advice = best_bands(study_id, scene_id, wanted, limit)
    else:
        advice = pair_bands(study_id, scene_id, wanted, (code, other_code), limit)
    enough = advice.found.smallest_with(limit)
    return BandAdviceOut(
        subsets=[
            BandSubsetOut(
                roles=[advice.roles[band] for band in one.bands], worst=one.worst, mean=one.mean
            )
            for one in advice.found.best
        ],
        enough=len(enough.bands) if enough else None,
        all_tried=advice.found.all_tried,
        untold=advice.untold,
    )


@router.get(
    "/studies/{study_id}/live/{version}/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_live_tile(
    request: Request,
    study_id: Id,
    version: str,
    level: int,
    row: int,
    col: int,
    scene_id: Id,
    roles: RolesQuery = "",
    method: MethodQuery = "",
    upper: UpperQuery = False,
    unlike: MethodQuery = "",
) -> Response:
    """A tile of the class map as it would come out with the sites of this version; what another
    method tells alike, where one is named, lies under a veil."""
    bands = parse_roles(scene_id, roles)
    state = remembered_state(version) or training_state(
        study_id, scene_id, bands, parse_method(method)
    )
    if state.version != version or state.model is None:
        raise NotFoundError("The training sites have changed since; ask for the new version.")
    if layer_record(state.scene_id).study_id != study_id:
        raise NotFoundError("This map belongs to another study.")
    other = training_state(study_id, scene_id, bands, parse_method(unlike)) if unlike else None
    shown = [one for one in (state, other) if one is not None and one.model is not None]
    rasters = [
        class_map_raster(open_layer(state.scene_id), one.model, one.training.legend)
        for one in shown
        if one.model is not None
    ]
    colours = colours_at(study_id, state.training.legend, upper)

    def make() -> bytes:
        pixels = usable_tile(state.scene_id, level, row, col, state.training.roles)
        block, *others = (raster.compute(pixels, raster.inputs) for raster in rasters)
        return render_classes(block, colours, *others)

    versions = " ".join(one.version for one in shown)  # they say all that a model says
    key = f"{versions}|{sorted(colours.items())}|{level}|{row}|{col}"
    return picture_response(request, key, make, CHECK_FIRST if upper or unlike else IMMUTABLE)


def parse_roles(scene_id: int, text: str) -> tuple[str, ...]:
    """Bands named with commas between; the usual ones where none are."""
    wanted = tuple(role for role in text.split(",") if role)
    return wanted or default_roles(scene_id)


def _require_outline(scene_id: int, geometry: dict[str, object]) -> None:
    """Refuse what is no outline at all; one that crosses itself is kept and can be mended. It is
    read on the way, and need not be read again for the answer."""
    summary = site_summary(scene_id, default_roles(scene_id), geometry)
    if not summary.is_outline:
        raise SiteError(summary.problem or "This is no outline.")


def _site_out(site: Site, scene_id: int) -> SiteOut:
    summary = site_summary(scene_id, default_roles(scene_id), site.geometry)
    return SiteOut(**_site_row(site, scene_id, summary))


def _site_row(site: Site, scene_id: int, summary: SiteSummary) -> dict[str, Any]:
    """A site as the fields of its schema."""
    return {
        "id": site.id,
        "version": site.version,
        "class_id": site.class_id,
        "geometry": site.geometry,
        "note": site.note,
        "true_on": site.true_on,
        "elsewhen": not is_true_in(site, scene_id),
        "trusted": site.trusted,
        "set_aside": site.set_aside,
        "n_pixels": summary.n_valid,
        "n_covered": summary.n_covered,
        "outside": summary.outside,
        "problem": summary.problem,
    }


def _training_out(state: TrainingState) -> TrainingOut:
    n_sites: dict[int, int] = {}
    for site in state.training.sites:
        n_sites[site.code] = n_sites.get(site.code, 0) + 1
    few = starved_classes(state)
    classes = []
    for c in state.training.classes:
        s = state.statistics.get(c.code)
        classes.append(
            ClassTrainingOut(
                code=c.code,
                n_sites=n_sites.get(c.code, 0),
                n_pixels=s.n_pixels if s else 0,
                mean=s.mean.tolist() if s else [],
                standard_deviation=s.standard_deviation.tolist() if s else [],
                left_out=c.code in state.left_out,
            )
        )
    return TrainingOut(
        version=state.version,
        roles=list(state.training.roles),
        usual_minimum=USUAL_MINIMUM_PER_BAND * len(state.training.roles),
        classes=classes,
        pairs=[
            PairOut(
                code=pair.code,
                other_code=pair.other_code,
                jeffries_matusita=pair.jeffries_matusita,
                transformed_divergence=pair.transformed_divergence,
                bhattacharyya=pair.bhattacharyya,
                few=pair.code in few or pair.other_code in few,
            )
            for pair in hardest_pairs(state)
        ],
        withheld=untold_classes(state),
        contested=[
            ContestedOut(code=c.code, other_code=c.other_code, n_pixels=c.n_pixels)
            for c in state.contested
        ],
        problem=state.problem,
        live=_live_out(state),
    )


def _live_out(state: TrainingState) -> LiveOut:
    """What the map can show: the classifier as it stands, or while a slow one is being trained the
    one before."""
    latest = None if state.problem is not None else latest_trained(state)
    return LiveOut(
        version=latest and latest.version,
        trained_at=latest and latest.at,
        n_sites=latest and latest.n_sites,
        pending=state.pending,
        rounds=[RoundOut.model_validate(one, from_attributes=True) for one in rounds_so_far(state)],
    )
