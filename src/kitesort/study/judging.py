"""Training sites judged by their pixels, and the advice that follows."""

import hashlib
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import mapping

from kitesort.core.classify.training import order_of
from kitesort.core.errors import NotFoundError
from kitesort.core.geometry import reproject_shape
from kitesort.core.newest import Newest
from kitesort.core.training.advice import Advice, ClassFacts, SiteFacts, advise
from kitesort.core.training.peaks import LEAST_PIXELS, Peaks, second_peak
from kitesort.core.training.reshape import outline_of_pixels
from kitesort.core.training.samples import TrainingSamples
from kitesort.core.training.site_figures import SiteFigures, site_figures
from kitesort.core.training.usual import UsualClass, usual_class
from kitesort.store.records import LandClass, Site
from kitesort.store.scheme import list_classes
from kitesort.store.sites import list_sites
from kitesort.study.drawn_sites import takes_part
from kitesort.study.rasters import open_layer, study_crs
from kitesort.study.site_reading import readings_of
from kitesort.study.training import TrainingState, training_state

KEPT_CLASSES = 256
KEPT_PEAKS = 20_000
KEPT_JUDGEMENTS = 16


@dataclass(frozen=True)
class JudgedSite:
    """A site that takes part, what it is called in its class, its pixels' figures, and how many
    pixels it covers."""

    site: Site
    title: str
    figures: SiteFigures
    n_covered: int


@dataclass(frozen=True)
class Judgement:
    """Sites in doubt first, and all advice in order. ``state`` is what was judged, ``key`` tells
    it from any other judgement."""

    key: str
    state: TrainingState
    sites: tuple[JudgedSite, ...]
    advice: tuple[Advice, ...]

    def pixels_of(self, site_id: int) -> tuple[JudgedSite, TrainingSamples]:
        """A site and its pixels.

        Raises
        ------
        NotFoundError : it takes no part in the scene.
        """
        one = next((one for one in self.sites if one.site.id == site_id), None)
        if one is None or self.state.samples is None:
            raise NotFoundError("The site takes no part in this scene.")
        return one, self.state.samples.of_site(one.figures.number)


def judge(study_id: int, scene_id: int, roles: tuple[str, ...]) -> Judgement:
    """The training of a scene as it stands, judged; remembered as long as nothing of it changes."""
    sites = list_sites(study_id)
    state = training_state(study_id, scene_id, roles, sites=sites)
    key = f"{state.version} {sites.version}"
    return _judgements.get(key, lambda: _judge(key, state, sites, list_classes(study_id)))


def _judge(
    key: str, state: TrainingState, sites: Sequence[Site], classes: list[LandClass]
) -> Judgement:
    judged = _judged_sites(state, sites, titles_of(sites, classes)) if state.samples else ()
    facts = [
        SiteFacts(one.site.id, one.title, one.n_covered, one.site.trusted, one.figures)
        for one in judged
    ]
    n_idle = len(state.training.sites) - len(judged)
    found = advise(_class_facts(state), facts, state.contested, len(state.training.roles), n_idle)
    return Judgement(key, state, judged, tuple(found))


def _judged_sites(
    state: TrainingState, sites: Sequence[Site], titles: dict[int, str]
) -> tuple[JudgedSite, ...]:
    assert state.samples is not None
    drawn = state.training.sites  # as they were listed, those that take part
    order = order_of(drawn)
    taking_part = [site for site in sites if takes_part(site, state.scene_id)]
    reads = readings_of(state.scene_id, drawn, state.training.roles)
    found = []
    for figures in site_figures(state.samples, _usual_classes(state.samples), _peaks_of):
        place = order[figures.number]
        site, pixels = taking_part[place], reads[place].pixels
        n_covered = pixels.n_covered if pixels else figures.n_pixels
        found.append(JudgedSite(site, titles[site.id], figures, n_covered))
    return tuple(sorted(found, key=lambda one: -one.figures.doubt))


def titles_of(sites: Sequence[Site], classes: list[LandClass]) -> dict[int, str]:
    """What lists call sites, by id: by class, in the order in which they were drawn."""
    names = {c.id: c.name for c in classes}
    counted: dict[int, int] = {}
    titles = {}
    for site in sites:
        counted[site.class_id] = number = counted.get(site.class_id, 0) + 1
        # A class may go between the list of sites and that of classes.
        titles[site.id] = f"Site {number} of {names.get(site.class_id, 'a class that has gone')}"
    return titles


def _usual_classes(samples: TrainingSamples) -> dict[int, UsualClass]:
    """Of every class that has the pixels for it, remembered: an edit changes one or two."""
    found = {}
    for code in samples.class_codes:
        at = samples.codes == code
        values, sites = samples.values[at], samples.sites[at]
        starts = np.flatnonzero(np.diff(sites, prepend=-1))
        told = hashlib.blake2s(values.tobytes() + starts.tobytes(), digest_size=16).hexdigest()
        key = f"{told} {samples.roles}"
        known = _usual.get(key, lambda v=values, s=sites: (usual_class(v, s),))  # type: ignore[misc]
        if known[0] is not None:
            found[code] = known[0]
    return found


def _peaks_of(values: npt.NDArray[np.float32]) -> Peaks | None:
    """Remembered: an edit changes one site of many."""
    if len(values) < LEAST_PIXELS:
        return None
    told = hashlib.blake2s(values.tobytes(), digest_size=16).hexdigest()
    (found,) = _peaks.get(f"{told} {values.shape}", lambda: (second_peak(values),))
    return found


def _class_facts(state: TrainingState) -> dict[int, ClassFacts]:
    training, scene = state.training, open_layer(state.scene_id).grid
    of_class: dict[int, list[shapely.Geometry]] = {c.code: [] for c in training.classes}
    reads = readings_of(state.scene_id, training.sites, training.roles)
    for site, read in zip(training.sites, reads, strict=True):
        if read.outline is not None:
            of_class[site.code].append(read.outline)
    n_sites = Counter(site.code for site in training.sites)
    left, bottom, right, top = scene.bounds
    return {
        c.code: ClassFacts(
            name=c.name,
            n_sites=n_sites[c.code],
            n_pixels=state.statistics[c.code].n_pixels if c.code in state.statistics else 0,
            left_out=c.code in state.left_out,
            around=_area_around(of_class[c.code]) / ((right - left) * (top - bottom)),
        )
        for c in training.classes
    }


def _area_around(outlines: list[shapely.Geometry]) -> float:
    if not outlines:
        return 0.0
    left, bottom, right, top = shapely.total_bounds(np.array(outlines, object))
    return float((right - left) * (top - bottom))


def odd_pixels(
    study_id: int, scene_id: int, roles: tuple[str, ...], site_id: int
) -> tuple[dict[str, Any] | None, int]:
    """The outline of a site's unusual pixels (GeoJSON in the study's CRS), and how many they are;
    None where there are none.

    Raises
    ------
    NotFoundError : the site takes no part.
    """
    one, pixels = judge(study_id, scene_id, roles).pixels_of(site_id)
    odd = one.figures.odd
    if not odd.any():
        return None, 0
    grid = open_layer(scene_id).grid
    outline = outline_of_pixels(pixels.rows[odd], pixels.cols[odd], grid)
    there = reproject_shape(outline, grid.crs, study_crs(study_id))
    return dict(mapping(there)), int(odd.sum())


_peaks: Newest[str, tuple[Peaks | None]] = Newest(KEPT_PEAKS)
_usual: Newest[str, tuple[UsualClass | None]] = Newest(KEPT_CLASSES)
_judgements: Newest[str, Judgement] = Newest(KEPT_JUDGEMENTS)
