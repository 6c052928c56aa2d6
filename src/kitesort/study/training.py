"""The present training state of a study: pixels per class, hard pairs, and the live classifier."""

from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
import numpy.typing as npt
from shapely.geometry.base import BaseGeometry

from kitesort.core.classify.learning import Round, rounds_in, rounds_of
from kitesort.core.classify.methods.neural_network import TrainedNeuralNetwork
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.training import (
    SchemeClass,
    Training,
    collect_samples,
    train,
)
from kitesort.core.errors import (
    InputError,
    TooFewClassesError,
    TrainingError,
)
from kitesort.core.group_statistics import ClassStatistics
from kitesort.core.newest import Newest
from kitesort.core.operations import OPERATIONS
from kitesort.core.raster.protocol import band_positions
from kitesort.core.recipe import LayerLeaf, Node
from kitesort.core.settings import Settings
from kitesort.core.training.overlap import Contested, contested_pixels
from kitesort.core.training.samples import TrainingSamples
from kitesort.store.scheme import list_classes
from kitesort.store.sites import Sites, list_sites
from kitesort.study.background import Background
from kitesort.study.drawn_sites import drawn_sites
from kitesort.study.method import USUAL_METHOD, Method
from kitesort.study.rasters import (
    layer_record,
    left_out_flags,
    open_layer,
    require_own,
)
from kitesort.study.site_reading import (
    readings_of,
    remembering_reader,
)

KEPT_STATES = 32
WAIT = 0.8  # seconds for which an answer waits for a slow method
KEPT_SAMPLES = 8


@dataclass(frozen=True)
class TrainingState:
    """Samples and statistics by class code; ``model`` is None when ``problem`` says why, or while
    it is being trained (``pending``)."""

    scene_id: int
    training: Training
    samples: TrainingSamples | None
    statistics: dict[int, ClassStatistics]
    left_out: tuple[int, ...]
    model: TrainedClassifier | None
    problem: str | None
    contested: tuple[Contested, ...] = ()
    pending: bool = False

    @property
    def version(self) -> str:
        return _version(self.scene_id, self.training)

    @property
    def line(self) -> tuple[int, tuple[str, ...], str]:
        """What stays the same while sites and settings change: scene, bands, method."""
        return self.scene_id, self.training.roles, self.training.method

    def trained(self) -> tuple[TrainedClassifier, TrainingSamples]:
        """The classifier and the samples of the classes that it knows.

        Raises
        ------
        TrainingError : there is none yet, and why.
        """
        if self.model is None or self.samples is None:
            raise TrainingError(self.problem or "Nothing can be trained yet.")
        return self.model, self.samples.of_classes([int(code) for code in self.model.codes])


def make_training(
    study_id: int,
    scene_id: int,
    roles: tuple[str, ...],
    method: Method = USUAL_METHOD,
    sites: Sites | None = None,
) -> Training:
    """What the study's sites as they are now would teach a classifier; ``sites``: where they have
    been listed already.

    Raises
    ------
    NotFoundError : no such scene or method. MissingRoleError : a role the scene has not.
    """
    require_own(study_id, [scene_id])
    band_positions(open_layer(scene_id).bands, roles)
    if not roles:
        raise InputError("Choose at least one band.")
    listed = list_sites(study_id) if sites is None else sites
    classes = tuple(
        SchemeClass(code=c.code, name=c.name, colour=c.colour)
        for c in sorted(list_classes(study_id), key=lambda c: c.code)
    )
    key = f"{scene_id} {listed.version} {roles} {method} {classes}"
    return _trainings.get(
        key,
        lambda: Training(
            roles=roles,
            excluded=left_out_flags(scene_id),
            classes=classes,
            sites=drawn_sites(study_id, scene_id, sites=listed),
            method=method.id,
            method_version=method.spec.version,
            settings=method.settings,
            seed=method.seed,
        ),
    )


def _version(scene_id: int, training: Training) -> str:
    return f"{training.digest}{scene_id:x}"


def map_recipe(scene_id: int, operation: str, settings: Settings) -> Node:
    """The recipe of a class map of a scene."""
    leaf = LayerLeaf(layer_id=scene_id, name=layer_record(scene_id).title)
    return Node(
        operation=operation,
        version=OPERATIONS[operation].version,
        settings=settings.model_dump(mode="json"),
        inputs=(leaf,),
    )


def training_state(
    study_id: int,
    scene_id: int,
    roles: tuple[str, ...],
    method: Method = USUAL_METHOD,
    sites: Sites | None = None,
) -> TrainingState:
    """Where training stands now; remembered as long as nothing of it changes, names included. A
    method that takes long is trained behind, and asked for again. ``sites``: where they have been
    listed already."""
    training = make_training(study_id, scene_id, roles, method, sites)
    version = _version(scene_id, training)
    if CLASSIFIERS[training.method].slow:  # nobody waits for another's waiting
        known = _states.find(version) or _compute_state(scene_id, training)
        if not known.pending:
            _states.put(version, known)
    else:
        known = _states.get(version, lambda: _compute_state(scene_id, training))
    latest = _latest.find(known.line)
    if known.model is not None and (latest is None or latest.version != version):
        _latest.put(known.line, Trained(version, datetime.now(UTC), len(training.sites)))
    return known


@dataclass(frozen=True)
class Trained:
    """A state that has a classifier: its version, when that came to stand, and from how many
    sites it was trained."""

    version: str
    at: datetime
    n_sites: int


def latest_trained(state: TrainingState) -> Trained | None:
    """The newest classifier of the same method on the same bands of the same scene."""
    return _latest.find(state.line)


def rounds_so_far(state: TrainingState) -> list[Round]:
    """How the classifier learns, or learnt; none of a method that does not learn in rounds."""
    if state.pending:
        return rounds_in(_behind.found_so_far(state.line))
    return rounds_of(state.model) if isinstance(state.model, TrainedNeuralNetwork) else []


def remembered_state(version: str) -> TrainingState | None:
    """A state computed before, without asking the database."""
    return _states.find(version)


def class_values(scene_id: int, role: str) -> dict[int, npt.NDArray[np.float32]]:
    """Training pixels' values of one band of a scene, by class code."""
    state = training_state(layer_record(scene_id).study_id, scene_id, (role,))
    if state.samples is None:
        return {}
    values, codes = state.samples.values[:, 0], state.samples.codes
    return {code: values[codes == code] for code in state.samples.class_codes}


def _compute_state(scene_id: int, training: Training) -> TrainingState:
    contested = contested_pixels(_outlines(scene_id, training), open_layer(scene_id).grid)
    try:
        samples, _ = samples_of(scene_id, training)
    except TrainingError as error:
        return TrainingState(scene_id, training, None, {}, (), None, error.sentence, contested)
    statistics = dict(samples.statistics)
    spec = CLASSIFIERS[training.method]
    n_needed = spec.least_pixels(len(training.roles))
    left_out = tuple(c for c, s in statistics.items() if s.n_pixels < n_needed)
    used = samples.of_classes([c for c in statistics if c not in left_out])
    pending = False
    try:
        model, problem = _trained(scene_id, training, used), None
        pending = model is None
    except TooFewClassesError as error:
        model, problem = None, _starved(samples, left_out, n_needed) or error.sentence
    except InputError as error:
        model, problem = None, error.sentence
    return TrainingState(
        scene_id, training, samples, statistics, left_out, model, problem, contested, pending
    )


def samples_of(scene_id: int, training: Training) -> tuple[TrainingSamples, list[str]]:
    """Training pixels of a scene, and a sentence for each site that has none; remembered as long as
    the same sites teach the same names.

    Raises
    ------
    TooFewClassesError
    """
    names = tuple((c.code, c.name) for c in training.classes)
    key = scene_id, training.roles, training.sites_fingerprint, names
    read = remembering_reader(scene_id)
    return _samples.get(key, lambda: collect_samples(training, open_layer(scene_id), read))


def _trained(
    scene_id: int, training: Training, samples: TrainingSamples
) -> TrainedClassifier | None:
    """Remembered by what it is trained on: other colours train nothing anew. None while a slow
    method is at it."""
    told = training.model_dump_json(exclude={"classes", "sites", "excluded"})
    key = f"{samples.fingerprint} {sorted(samples.names.items())} {told}"
    known = _models.find(key)
    if known is not None or not CLASSIFIERS[training.method].slow:
        return known or _models.get(key, lambda: train(training, samples))
    line = scene_id, training.roles, training.method
    made = _behind.ask(line, key, lambda watch: train(training, samples, watch), WAIT)
    if made is not None:
        _models.put(key, made)
    return made


def _starved(samples: TrainingSamples, left_out: tuple[int, ...], n_needed: int) -> str | None:
    """Where classes are there, but too small, another one is of no help."""
    if not left_out:
        return None
    names = " and ".join(samples.names[code] for code in left_out)
    return (
        f"{names} {'has' if len(left_out) == 1 else 'have'} too few pixels to be trained: at least "
        f"{n_needed} are needed in this many bands, and two classes that have them. Draw more."
    )


def _outlines(scene_id: int, training: Training) -> list[tuple[int, BaseGeometry]]:
    """Class code and outline of every site that is one."""
    reads = readings_of(scene_id, training.sites, training.roles)
    return [
        (site.code, read.outline)
        for site, read in zip(training.sites, reads, strict=True)
        if read.outline is not None
    ]


_trainings: Newest[str, Training] = Newest(KEPT_STATES)
_SamplesKey = tuple[int, tuple[str, ...], str, tuple[tuple[int, str], ...]]
_samples: Newest[_SamplesKey, tuple[TrainingSamples, list[str]]] = Newest(KEPT_SAMPLES)
_models: Newest[str, TrainedClassifier] = Newest(KEPT_STATES)
_states: Newest[str, TrainingState] = Newest(KEPT_STATES)
_latest: Newest[tuple[int, tuple[str, ...], str], Trained] = Newest(KEPT_STATES)
_behind: Background[TrainedClassifier] = Background()
