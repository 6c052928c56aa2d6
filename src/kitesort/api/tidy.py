"""Tidying class maps: the steps there are, what they would change, and how it looks."""

import json
from dataclasses import asdict
from typing import Annotated

from fastapi import Query, Request, Response
from pydantic import BaseModel, Field, TypeAdapter, ValidationError

from kitesort.api.class_tiles import class_tile
from kitesort.api.correct import operation_out
from kitesort.api.routes import api_router
from kitesort.api.scene_schemas import OperationOut, StepIn
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import Id, In
from kitesort.api.training import MOST_QUERY, PLAIN
from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.display.tile import colours_of
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.outside_json import read_json
from kitesort.core.raster.protocol import require_same_grid
from kitesort.core.settings import describe_invalid
from kitesort.core.tidy.other_map import ClassNames
from kitesort.core.tidy.registry import TIDYINGS
from kitesort.study.changes import Changed, what_changes
from kitesort.study.maps import get_map
from kitesort.study.rasters import for_display, open_layer
from kitesort.study.steps import Step, for_map, open_with_steps

router = api_router("tidy")
MOST_STEPS = 20
_STEPS = TypeAdapter(list[StepIn])


class StepsIn(In):
    steps: list[StepIn] = Field(min_length=1, max_length=MOST_STEPS)


class MatchIn(StepsIn):
    """``classes``: what the codes in the steps stand for."""

    classes: ClassNames


class ClassChangeOut(BaseModel):
    """Pixels and pieces of a class before and after."""

    code: int
    name: str
    colour: str
    before: int
    after: int
    pieces_before: int
    pieces_after: int


class FromToOut(BaseModel):
    """Pixels of one code that became another; 0 is no data."""

    before: int
    after: int
    n: int


class TouchedOut(BaseModel):
    """A rule or an edit of a step, by the step's place in the chain, and the pixels it decided."""

    step: int
    words: str
    n: int


class RightOut(BaseModel):
    """Of ``n`` reference points where the map has data before and after, how many are told rightly
    by either."""

    n: int
    before: int
    after: int


class TidiedOut(BaseModel):
    """What steps would make of a map: in words, or why it cannot be done; ``changed``: share of the
    pixels, and hectares where all were counted; ``exact``: they were, and not some spread over the
    map; ``from_to``: what became of what, the most first; ``right``: at the reference points among
    the pixels that were counted.
    """

    sentence: str | None
    problem: str | None
    changed: float
    changed_ha: float | None
    exact: bool
    classes: list[ClassChangeOut]
    from_to: list[FromToOut]
    touched: list[TouchedOut]
    right: RightOut


@router.get("/tidyings")
def get_tidyings() -> list[OperationOut]:
    """Steps of tidying, and the masks that do for class maps, too."""
    masks = (c for c in CORRECTIONS.values() if c.family == "mask" and "classes" in c.takes)
    return [operation_out(spec) for spec in (*TIDYINGS.values(), *masks)]


@router.post("/maps/{layer_id}/tidied")
def look_at_tidied(layer_id: Id, body: StepsIn) -> TidiedOut:
    """What steps would change, before anything is kept."""
    layer = get_map(layer_id)
    steps = [Step(one.operation, one.settings) for one in body.steps]
    try:
        found = what_changes(layer, steps)
    except InputError as error:
        return TidiedOut(
            sentence=None, problem=error.sentence, changed=0.0, changed_ha=None, exact=False,
            classes=[], from_to=[], touched=[], right=RightOut(n=0, before=0, after=0),
        )  # fmt: skip
    before, after = (found.from_to.pixels_by_code(of_second=so) for so in (False, True))
    return TidiedOut(
        sentence=found.sentence,
        problem=None,
        changed=found.share,
        changed_ha=found.changed_ha,
        exact=found.exact,
        classes=[
            ClassChangeOut(
                code=e.code, name=e.name, colour=e.colour,
                before=before.get(e.code, 0), after=after.get(e.code, 0),
                pieces_before=int(found.pieces_before[e.code]),
                pieces_after=int(found.pieces_after[e.code]),
            )
            for e in found.legend
            if e.code in before or e.code in after
        ],
        from_to=_from_to_out(found),
        touched=[TouchedOut(**asdict(one)) for one in found.touched],
        right=RightOut(**asdict(found.right)),
    )  # fmt: skip


def _from_to_out(found: Changed) -> list[FromToOut]:
    met = found.from_to
    each = zip(met.pixels.tolist(), met.first.tolist(), met.second.tolist(), strict=True)
    moved = sorted((-n, a, b) for n, a, b in each if a != b)
    return [FromToOut(before=a, after=b, n=-n) for n, a, b in moved]


@router.post("/maps/{layer_id}/matched-steps")
def match_steps(layer_id: Id, body: MatchIn) -> list[StepIn]:
    """Steps that were made for a map with other codes, for this one: each class by its name."""
    layer = get_map(layer_id)
    steps = [Step(one.operation, one.settings) for one in body.steps]
    found = for_map(layer, steps, {one.code: one.name for one in body.classes})
    return [StepIn(operation=one.operation, settings=one.settings) for one in found]


@router.get(
    "/maps/{layer_id}/tidied/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_tidied_tile(
    request: Request,
    layer_id: Id,
    level: int,
    row: int,
    col: int,
    steps: Annotated[
        str, Query(max_length=MOST_QUERY, pattern=PLAIN, description="the steps as JSON")
    ],
    lit: Annotated[bool, Query(description="what stays as it is lies under a veil")] = False,
) -> Response:
    """The map with the steps done to it, before it is kept."""
    layer = get_map(layer_id)
    given = [one.model_dump(mode="json") for one in _parse(steps)]
    after = open_with_steps(layer_id, json.dumps(given, sort_keys=True))
    before = open_layer(layer_id, "work") if lit else None
    if before is not None:
        require_same_grid(before, after)
        before = for_display(before, layer.study_id)
    shown = for_display(after, layer.study_id)
    colours = colours_of(after.bands[0].legend)
    return class_tile(request, shown, (level, row, col), colours, before)


def _parse(text: str) -> list[StepIn]:
    """Raises BadSettingsError : no list of steps."""
    try:
        found = _STEPS.validate_python(read_json(text))
    except ValidationError as error:
        raise BadSettingsError(f"The steps cannot be read. {describe_invalid(error)}") from error
    except ValueError as error:
        raise BadSettingsError("The steps are no JSON.") from error
    if not 1 <= len(found) <= MOST_STEPS:
        raise BadSettingsError(f"Give between 1 and {MOST_STEPS} steps.")
    return found
