"""Indices, transforms and texture against published values and independent libraries."""

import zlib

import numpy as np
import pytest
import spyndex
from skimage.feature import graycomatrix, graycoprops
from sklearn.decomposition import PCA
from sklearn.preprocessing import StandardScaler

from kitesort.core.bands import Band
from kitesort.core.derive.coefficients import PUBLISHED_SETS, get_published
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.derive.formula.program import compile_formula
from kitesort.core.derive.formula.tree import names_in
from kitesort.core.derive.index_catalogue import all_indices, bind_index
from kitesort.core.derive.methods import (
    noise_fraction,
    principal_components,
    texture,
)
from kitesort.core.derive.methods._linear import linear_raster
from kitesort.core.derive.methods._texture_kernel import MEASURES
from kitesort.core.operation import Context
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster, random_raster
from support.opening import open_by, prepare_by
from support.scripts import load_script

CONTEXT = Context(lambda *_: random_raster(4, 4))
take_indices = load_script("take_indices")
WAVELENGTHS = {
    "coastal": 0.443, "blue": 0.49, "green": 0.56, "green05": 0.531, "yellow": 0.6, "red": 0.665,
    "rededge071": 0.705, "rededge075": 0.74, "rededge078": 0.783, "nir": 0.842, "nir08": 0.865,
    "nir09": 0.945, "swir16": 1.61, "swir22": 2.19, "lwir": 11.0, "lwir11": 10.9, "lwir12": 12.0,
}  # fmt: skip


class TestIndices:
    """The open catalogue of the package ``spyndex`` and its own evaluation of it."""

    def test_what_is_shipped_is_what_the_package_carries(self) -> None:
        taken = take_indices.make_catalogue()
        ours = all_indices()
        assert len(taken) > 250
        for entry in taken:
            assert ours[entry["id"]].model_dump(mode="json") == entry
        assert set(ours) - {entry["id"] for entry in taken} == {"dgr"}

    def test_nothing_is_left_out_without_a_reason(self) -> None:
        """Radar, kernels, and one index that needs measured light are not taken."""
        indices, _, _ = take_indices.read_catalogue()
        taken = {entry["symbol"] for entry in take_indices.make_catalogue()}
        left = {name: e["application_domain"] for name, e in indices.items() if name not in taken}
        others = {name for name, domain in left.items() if domain not in ("radar", "kernel")}
        assert others == {"NIRvP"}

    @pytest.mark.parametrize("index_id", sorted(set(all_indices()) - {"dgr"}))
    def test_every_index_on_random_reflectance(self, index_id: str) -> None:
        index = all_indices()[index_id]
        rng = np.random.default_rng(zlib.crc32(index.symbol.encode()))
        values = {role: rng.uniform(0.02, 0.6, 500).astype(np.float32) for role in WAVELENGTHS}
        bands = tuple(Band(role, um) for role, um in WAVELENGTHS.items())
        node = parse_formula(bind_index(index, bands).formula)
        names = names_in(node)
        got = compile_formula(node, names).run(np.stack([values[name] for name in names]))

        _, roles, constants = take_indices.read_catalogue()
        given = {code: values[role].astype(np.float64) for code, role in roles.items()
                 if role in values}  # fmt: skip
        given |= {name: v for name, v in constants.items() if v is not None}
        given |= {f"lambda{code}": um * 1000 for code, role in roles.items()
                  if (um := WAVELENGTHS.get(role))}  # fmt: skip
        needed = spyndex.indices[index.symbol].bands
        with np.errstate(all="ignore"):
            want = spyndex.computeIndex(index.symbol, {name: given[name] for name in needed})
        good = np.isfinite(want)
        assert good.any()
        scale = np.abs(want[good]).max()
        assert np.allclose(got[good], want[good], rtol=2e-5, atol=2e-6 * scale)
        assert np.isnan(got[~good]).all()


class TestTasseledCap:
    """``checks.md``: coefficients from memory; rows of unit length and nearly at right angles."""

    @pytest.mark.parametrize("one", PUBLISHED_SETS, ids=lambda one: one.id)
    def test_rows_are_unit_vectors_at_right_angles(self, one) -> None:  # type: ignore[no-untyped-def]
        rows = np.array(one.table.matrix)
        gram = rows @ rows.T
        assert np.allclose(np.diag(gram), 1, atol=0.004)
        assert np.allclose(gram - np.diag(np.diag(gram)), 0, atol=0.02)

    @pytest.mark.parametrize(
        ("set_id", "rows"),
        [
            ("oli-2014", "  .3029 .2786 .4733 .5599 .508 .1872 "
                         "-.2941 -.243 -.5424 .7276 .0713 -.1608 "
                         " .1511 .1973 .3283 .3407 -.7117 -.4559"),
            ("etm-2002", "  .3561 .3972 .3904 .6966 .2286 .1596 "
                         "-.3344 -.3544 -.4556 .6966 -.0242 -.2630 "
                         " .2626 .2141 .0926 .0656 -.7629 -.5388"),
            ("tm-1985", "   .2043 .4158 .5524 .5741 .3124 .2303 "
                        "-.1603 -.2819 -.4934 .7940 -.0002 -.1446 "
                        " .0315 .2021 .3102 .1594 -.6806 -.6109"),
        ],
    )  # fmt: skip
    def test_pixels_by_hand(self, set_id: str, rows: str) -> None:
        """Baig et al. 2014, Huang et al. 2002, Crist 1985; as given in ``checks.md``."""
        matrix = np.array(rows.split(), float).reshape(3, 6)
        table = get_published(set_id).table
        assert table.roles == ("blue", "green", "red", "nir", "swir16", "swir22")
        source = random_raster(20, 20, 6, invalid_share=0)
        names = tuple(c.name for c in table.components)
        assert names == ("brightness", "greenness", "wetness")
        raster = linear_raster(source, table.roles, names, table.matrix)
        got = raster.read(raster.grid.whole).values
        want = np.tensordot(matrix, source.values.astype(np.float64), 1)
        assert np.allclose(got, want, atol=1e-6)


def correlated_raster(seed: int = 0) -> ArrayRaster:
    """Five bands of which two hold most of the variance, on 80 × 90 pixels."""
    rng = np.random.default_rng(seed)
    hidden = rng.normal(0, 1, (2, 80, 90))
    mixing = rng.normal(0, 1, (5, 2))
    values = np.tensordot(mixing, hidden, 1) + rng.normal(0, 0.1, (5, 80, 90))
    scale = np.array([1, 3, 0.2, 10, 0.5])[:, None, None]
    roles = ("blue", "green", "red", "nir", "swir16")
    return ArrayRaster((values * scale + 2).astype(np.float32), rng.random((80, 90)) > 0.1, roles)


class TestPrincipalComponents:
    """scikit-learn's ``PCA``, on the values and on standardised ones."""

    @pytest.mark.parametrize("matrix", ["covariance", "correlation"])
    @pytest.mark.parametrize("pixels", ["view", "every"])
    def test_scores_loadings_and_variance(self, matrix: str, pixels: str) -> None:
        source = correlated_raster()
        spec = principal_components.SPEC
        settings = validate_settings(spec, {"matrix": matrix, "pixels": pixels, "n_components": 5})
        found = prepare_by(spec, source, settings, CONTEXT)
        raster = open_by(spec, source, found, CONTEXT)
        got = raster.read(raster.grid.whole).values[:, source.valid].T.astype(np.float64)

        data = source.values[:, source.valid].T.astype(np.float64)
        if matrix == "correlation":
            data = StandardScaler().fit_transform(data) * np.sqrt((len(data) - 1) / len(data))
        fitted = PCA().fit(data)
        want = fitted.transform(data)
        signs = np.sign((got * want).sum(axis=0))
        assert np.allclose(got, want * signs, atol=2e-4 * np.abs(want).max())
        assert np.allclose(found.eigenvalues, fitted.explained_variance_, rtol=1e-6)
        shares = np.array(found.eigenvalues) / sum(found.eigenvalues)
        assert np.allclose(shares, fitted.explained_variance_ratio_, rtol=1e-6)


class TestNoiseFraction:
    """Green et al. 1988: after the transform the noise of every component is 1 and uncorrelated,
    the components are uncorrelated, and the first has the greatest share of signal."""

    def test_defining_property(self) -> None:
        rng = np.random.default_rng(2)
        rows, cols = np.mgrid[0:120, 0:130] / 60
        smooth = np.stack([np.sin(rows + k) * np.cos(cols * (1 + k / 4)) for k in range(4)])
        mixing, noise = rng.normal(0, 1, (4, 4)), np.array([0.1, 0.2, 0.15, 0.4])
        clean = np.tensordot(mixing, smooth, 1)
        noisy = clean + noise[:, None, None] * rng.normal(0, 1, clean.shape)
        source = ArrayRaster(
            noisy.astype(np.float32), np.ones((120, 130), np.bool_), ("blue", "green", "red", "nir")
        )
        spec = noise_fraction.SPEC
        settings = validate_settings(spec, {"n_components": 4, "pixels": "every", "lag_px": 1})
        found = prepare_by(spec, source, settings, CONTEXT)
        loadings = np.array(found.loadings)
        got = (
            open_by(spec, source, found, CONTEXT).read(source.grid.whole).values.astype(np.float64)
        )
        steps = np.concatenate(
            [
                (got[:, :, 1:] - got[:, :, :-1]).reshape(4, -1),
                (got[:, 1:] - got[:, :-1]).reshape(4, -1),
            ],
            axis=1,
        )
        assert np.allclose(np.cov(steps) / 2, np.eye(4), atol=0.02)
        assert np.allclose(np.cov(got.reshape(4, -1)), np.diag(found.eigenvalues), rtol=1e-3,
                           atol=0.02 * found.eigenvalues[0])  # fmt: skip
        assert (np.diff(found.eigenvalues) < 0).all()
        # The known noise, carried through the loadings, is near unit variance too.
        carried = loadings @ np.diag(noise**2) @ loadings.T
        assert np.allclose(np.diag(carried), 1, atol=0.25)

    def test_noise_alone_is_found_as_noise(self) -> None:
        source = random_raster(200, 200, 3, invalid_share=0.0)
        spec = noise_fraction.SPEC
        settings = validate_settings(spec, {"pixels": "every"})
        found = prepare_by(spec, source, settings, CONTEXT)
        assert np.allclose(found.eigenvalues, 1, atol=0.05)


class TestTexture:
    """scikit-image's ``graycomatrix`` and ``graycoprops`` on single windows."""

    @pytest.mark.parametrize("direction", ["all", "across", "up right", "down", "down right"])
    @pytest.mark.parametrize(("window", "distance"), [(3, 1), (7, 1), (7, 2)])
    def test_measures_of_windows(self, direction: str, window: int, distance: int) -> None:
        source = random_raster(30, 40, 1, invalid_share=0.0)
        spec = texture.SPEC
        settings = validate_settings(
            spec,
            {"role": "blue", "window_px": window, "levels": 8, "direction": direction,
             "distance_px": distance, "measures": list(MEASURES), "low": 0.0, "high": 0.4},
        )  # fmt: skip
        raster = open_by(spec, source, prepare_by(spec, source, settings, CONTEXT), CONTEXT)
        got = raster.read(raster.grid.whole).values
        levels = np.clip(np.floor(source.values[0].astype(np.float64) / 0.4 * 8), 0, 7)
        # There rows grow with the sine of the angle: a quarter turn is down, an eighth down right.
        angles = {"across": 0.0, "down right": 1.0, "down": 2.0, "up right": 3.0}
        chosen = [k for name, k in angles.items() if direction in ("all", name)]
        half = window // 2
        for row, col in ((half, half), (15, 20), (29 - half, 39 - half), (11, 33)):
            part = levels[row - half : row + half + 1, col - half : col + half + 1]
            pooled = np.zeros((8, 8, 1, 1))
            for k in chosen:
                length = distance * (np.sqrt(2) if k % 2 else 1)  # a diagonal step is longer
                pooled += graycomatrix(
                    part.astype(np.uint8), [length], [k * np.pi / 4], 8, symmetric=True
                )
            for i, measure in enumerate(MEASURES):
                want = graycoprops(pooled / pooled.sum(), measure)[0, 0]
                assert got[i, row, col] == pytest.approx(want, rel=1e-5, abs=1e-6), measure

    def test_pixels_without_data_make_no_pairs(self) -> None:
        """A window's measures are those of its valid pairs alone."""
        source = random_raster(20, 20, 1, invalid_share=0.3)
        spec = texture.SPEC
        settings = validate_settings(
            spec, {"role": "blue", "window_px": 3, "levels": 4, "direction": "across",
                   "measures": ["contrast"], "low": 0.0, "high": 0.4},
        )  # fmt: skip
        raster = open_by(spec, source, prepare_by(spec, source, settings, CONTEXT), CONTEXT)
        block = raster.read(raster.grid.whole)
        levels = np.clip(np.floor(source.values[0].astype(np.float64) / 0.4 * 4), 0, 3)
        for row in range(20):
            for col in range(20):
                pairs = [
                    (levels[r, c] - levels[r, c + 1]) ** 2
                    for r in range(max(0, row - 1), min(20, row + 2))
                    for c in range(max(0, col - 1), min(19, col + 1))
                    if source.valid[r, c] and source.valid[r, c + 1]
                ]
                assert block.valid[row, col] == bool(source.valid[row, col] and pairs)
                if block.valid[row, col]:
                    assert block.values[0, row, col] == pytest.approx(np.mean(pairs), rel=1e-6)

    def test_a_flat_window_has_no_contrast(self) -> None:
        values = np.full((1, 12, 12), 0.2, np.float32)
        flat = ArrayRaster(values, np.ones((12, 12), np.bool_), ("blue",))
        spec = texture.SPEC
        settings = validate_settings(
            spec, {"role": "blue", "measures": list(MEASURES), "low": 0.0, "high": 1.0}
        )
        raster = open_by(spec, flat, settings, CONTEXT)
        by_name = dict(zip(MEASURES, raster.read(raster.grid.whole).values[:, 6, 6], strict=True))
        assert by_name["contrast"] == by_name["entropy"] == by_name["variance"] == 0
        assert by_name["homogeneity"] == by_name["energy"] == by_name["correlation"] == 1
