"""Every classifier as an ONNX graph: ONNX Runtime gives the same classes on the demo scene."""

import io
import json
import zipfile

import numpy as np
import numpy.typing as npt
import onnx
import onnxruntime
import pytest

from kitesort.core.classify.onnx_file import unwrap, write_onnx
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.reading import read_classifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.stored import StoredClassifier, ToldClass, ToldClassifier
from kitesort.core.engine import UNWATCHED
from kitesort.core.errors import BadClassifierError
from kitesort.core.training.samples import TrainingSamples

Samples = tuple[TrainingSamples, npt.NDArray[np.float32]]
SETTINGS = {"random-forest": {"n_trees": 40}, "boosted-trees": {"rounds": 30},
            "neural-network": {"epochs": 60}, "spectral-angle": {"largest_angle": 3.0},
            "nearest-neighbours": {"weights": "distance"}}  # fmt: skip


def stored(method: str, samples: TrainingSamples) -> StoredClassifier:
    spec = CLASSIFIERS[method]
    model = spec.fit(samples, spec.settings(**SETTINGS.get(method, {})), 0, UNWATCHED)
    told = ToldClassifier(
        method=method, method_version=spec.version, settings={}, roles=samples.roles,
        quantities=("reflectance",) * len(samples.roles),
        classes=tuple(ToldClass(code=c, name=f"{c}", colour="#123456") for c in range(1, 10)),
        trained_on="0", sentence="A scene classified.",
    )  # fmt: skip
    return StoredClassifier(told, model)


def parts(content: bytes) -> tuple[bytes, dict[str, object]]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return archive.read("classifier.onnx"), json.loads(archive.read("card.json"))


def run(content: bytes, pixels: npt.NDArray[np.float32]) -> tuple[npt.NDArray[np.int64], ...]:
    session = onnxruntime.InferenceSession(content, providers=["CPUExecutionProvider"])
    told = [
        session.run(["class", "scores"], {"pixels": np.ascontiguousarray(part.T)})
        for part in np.array_split(pixels, 20, axis=1)
    ]
    return tuple(np.concatenate(each) for each in zip(*told, strict=True))


@pytest.mark.parametrize("method", list(CLASSIFIERS))
def test_the_runtime_gives_the_same_class(method: str, demo_samples: Samples) -> None:
    """Source: ONNX Runtime; at least 99.99 % of the pixels, and the same scores to single
    precision."""
    samples, scene = demo_samples
    pixels = np.ascontiguousarray(scene[:, ::30])
    one = stored(method, samples)
    content, _ = parts(write_onnx(one))
    onnx.checker.check_model(onnx.ModelProto.FromString(content))
    codes, scores = run(content, pixels)
    model: TrainedClassifier = one.model
    assert (codes == model.classify(pixels)).mean() >= 0.9999
    assert np.allclose(scores.T, model.scores(pixels), rtol=1e-5, atol=1e-5)


def test_brought_in_again_it_is_the_same(demo_samples: Samples) -> None:
    """From the archive with its card, and from the bare model."""
    samples, scene = demo_samples
    one = stored("linear-discriminant", samples)
    content = write_onnx(one)
    model, card = parts(content)
    assert card["roles"] == list(samples.roles) and "float32" in str(card["input"])
    for given in (content, model):
        again = read_classifier(unwrap(given))
        assert again.told == one.told
        some = np.ascontiguousarray(scene[:, :500])
        assert np.array_equal(again.model.scores(some), one.model.scores(some))


def foreign() -> bytes:
    make = onnx.helper
    value = make.make_tensor_value_info("x", onnx.TensorProto.FLOAT, [1])
    other = make.make_tensor_value_info("y", onnx.TensorProto.FLOAT, [1])
    graph = make.make_graph([make.make_node("Relu", ["x"], ["y"])], "g", [value], [other])
    content: bytes = make.make_model(graph).SerializeToString()
    return content


@pytest.mark.parametrize("content", [b"", b"no model", bytes(1000), foreign(), b"\x0a" * 4000])
def test_models_of_another_make_are_refused_in_words(content: bytes) -> None:
    with pytest.raises(BadClassifierError, match="another make"):
        unwrap(content)
