"""What goes over the wire while layers are derived."""

from typing import Any

from pydantic import BaseModel, Field

from kitesort.api.scene_schemas import OperationOut, ProblemWith, SceneOut
from kitesort.api.schemas import Id, In, RunOut
from kitesort.core.derive.break_start import Start
from kitesort.core.derive.breaks import BreakTable
from kitesort.core.derive.coefficients import CoefficientTable
from kitesort.core.derive.index_catalogue import Use
from kitesort.core.names import Name
from kitesort.core.operation import LayerRef
from kitesort.store.records import PresetKind


class DerivationOut(OperationOut):
    """``native_side``, of one that looks at neighbours, and so at native resolution only: the side
    of the square of as many pixels as it shows at once."""

    native_side: int | None


class TypicalOut(BaseModel):
    cover: str
    value: float


class IndexConstantOut(BaseModel):
    name: str
    value: float


class IndexOut(BaseModel):
    """An index of the catalogue on the bands of a scene. ``missing`` is empty when the scene can
    give it. ``mathml`` is its formula typeset; ``low`` and ``high`` its range where that is known;
    ``typical``: on schematic textbook spectra; ``usual``: textbooks name it first."""

    id: str
    symbol: str
    title: str
    use: Use
    formula: str
    mathml: str
    missing: list[str]
    constants: list[IndexConstantOut]
    reference: str
    low: float | None
    high: float | None
    typical: list[TypicalOut]
    usual: bool


class DerivationIn(In):
    """An operation on a scene."""

    scene_id: Id
    operation: str
    settings: dict[str, Any] = Field(default_factory=dict)


class DerivationOrder(In):
    operation: str
    settings: dict[str, Any] = Field(default_factory=dict)
    title: Name | None = Field(None, min_length=1, max_length=120)


class DerivationCreate(In):
    """The same orders for one scene or for many."""

    scene_ids: list[int] = Field(min_length=1, max_length=200)
    orders: list[DerivationOrder] = Field(min_length=1, max_length=50)


class DerivedOut(BaseModel):
    """``runs``: what takes so long that it is made in the background."""

    made: list[SceneOut]
    problems: list[ProblemWith]
    runs: list[RunOut]


class UndefinedOut(BaseModel):
    """Pixels with data for which the layer has no value; ``exact``: of all, else of a view."""

    n_undefined: int
    n_usable: int
    exact: bool


class FormulaIn(In):
    scene_id: Id
    formula: str = Field(max_length=4_000_000)


class FormulaOut(BaseModel):
    """``problem`` in words, from character ``start`` to ``end``; ``instead``: the nearest known
    name. Without a problem: the formula typeset, and the names in it."""

    problem: str | None
    start: int
    end: int
    instead: str | None
    mathml: str | None
    names: list[str]


class LayerNameOut(LayerRef):
    """A layer, and the name that formulas call it by."""

    name: str
    title: str


class FunctionOut(BaseModel):
    name: str
    words: str


class CoefficientSetOut(BaseModel):
    """``fits``: published for the scene's sensor; else ``reason`` says why it is refused."""

    id: str
    title: str
    source: str
    fits: bool
    reason: str
    table: CoefficientTable


class TableText(In):
    text: str = Field(max_length=100_000)


class TableOut(BaseModel):
    table: CoefficientTable
    remarks: list[str]


class PresetIn(In):
    kind: PresetKind
    name: Name = Field(min_length=1, max_length=120)
    content: dict[str, Any]


class BreaksIn(In):
    role: str = Field(max_length=64)
    table: BreakTable


class ClassCountOut(BaseModel):
    code: int
    pixels: int
    percent: float


class BreakCountsOut(BaseModel):
    """Of usable native pixels, all or spread evenly; code 255 is in no class."""

    classes: list[ClassCountOut]
    n_valid: int
    remarks: list[str]


class BreakStartIn(In):
    role: str = Field(max_length=64)
    n_classes: int = Field(ge=1, le=32)
    start: Start


class MemberOut(BaseModel):
    role: str
    minimum: float
    maximum: float
    mean: float
    standard_deviation: float


class RelationsOut(BaseModel):
    """Ranges of a scene's bands and how they go together; correlation None beside a constant."""

    members: list[MemberOut]
    correlation: list[list[float | None]]
    n_valid: int
    remarks: list[str]
