"""A trained classifier as a graph of the open ONNX standard, operator by operator."""

from collections.abc import Callable
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.legend import CodeArray

OPSET = 17
TREE_DOMAIN = "ai.onnx.ml"
TREE_OPSET = 3


class Graph:
    """What methods build their scores with. ``pixels`` is the input, (n, bands) of float32, ``x``
    the same in double precision; every step answers with the name of what it gives."""

    def __init__(self, n_bands: int) -> None:
        from onnx import TensorProto, helper, numpy_helper  # slow to import, seldom needed

        self._helper, self._numpy, self._type = helper, numpy_helper, TensorProto
        self._nodes: list[Any] = []
        self._constants: list[Any] = []
        self._n_steps = 0
        self.n_bands = n_bands
        self.pixels = "pixels"
        self.x = self.op("Cast", self.pixels, to=TensorProto.DOUBLE)

    def const(self, array: npt.NDArray[Any] | np.floating | float) -> str:
        name = f"constant_{len(self._constants)}"
        self._constants.append(self._numpy.from_array(np.asarray(array), name))
        return name

    def op(self, kind: str, *inputs: str, domain: str = "", **attributes: Any) -> str:
        return self.ops(kind, *inputs, outputs=1, domain=domain, **attributes)[0]

    def ops(
        self, kind: str, *inputs: str, outputs: int, domain: str = "", **attributes: Any
    ) -> list[str]:
        """A step that gives several."""
        self._n_steps += 1
        names = [f"{kind.lower()}_{self._n_steps}_{i}" for i in range(outputs)]
        node = self._helper.make_node(kind, list(inputs), names, domain=domain, **attributes)
        self._nodes.append(node)
        return names

    def sum(self, values: str, axis: int, keep: bool = False) -> str:
        axes = self.const(np.array([axis], np.int64))
        return self.op("ReduceSum", values, axes, keepdims=int(keep))

    def each(self, values: str, axis: int) -> str:
        """With one more axis, of length 1."""
        return self.op("Unsqueeze", values, self.const(np.array([axis], np.int64)))

    def as_double(self, values: str) -> str:
        return self.op("Cast", values, to=self._type.DOUBLE)

    def scaled(self, centre: npt.NDArray[np.float64], factor: npt.NDArray[np.float64]) -> str:
        """The bands less ``centre`` times ``factor``."""
        return self.op("Mul", self.op("Sub", self.x, self.const(centre)), self.const(factor))

    def squares(self, values: str, points: npt.NDArray[np.float64]) -> str:
        """Squared distances (n, points) of values (n, bands) from points (points, bands)."""
        apart = self.op("Sub", self.each(values, 1), self.const(points[None]))
        return self.sum(self.op("Mul", apart, apart), 2)

    def steps(self, values: str, points: npt.NDArray[np.float64]) -> str:
        """Manhattan distances (n, points) of values (n, bands) from points (points, bands)."""
        apart = self.op("Sub", self.each(values, 1), self.const(points[None]))
        return self.sum(self.op("Abs", apart), 2)

    def pixel_by_pixel(
        self, values: str, n_values: int, n_results: int, make: Callable[[str], str]
    ) -> str:
        """What ``make`` builds of values (1, n_values), for each of values (n, n_values): results
        (n, n_results), both in double precision.

        For steps that need much room for every pixel: however many pixels come, they are worked out
        for one at a time.
        """
        outside, self._nodes = self._nodes, []
        first = self.const(np.array([0], np.int64))
        row = f"row_{self._n_steps}"
        result = self.op("Squeeze", make(self.op("Unsqueeze", row, first)), first)
        inside, self._nodes = self._nodes, outside
        declare = self._helper.make_tensor_value_info
        body = self._helper.make_graph(
            inside,
            "one_pixel",
            [declare(row, self._type.DOUBLE, [n_values])],
            [declare(result, self._type.DOUBLE, [n_results])],
        )
        return self.op("Scan", values, body=body, num_scan_inputs=1)

    def model(
        self,
        scores: str,
        codes: CodeArray,
        lowest: npt.NDArray[np.float64],
        told: dict[str, str],
    ) -> bytes:
        """The whole: ``class`` (n,) by the rule of all methods, and ``scores`` (n, classes)."""
        best = self.op("ArgMax", scores, axis=1, keepdims=0)
        top = self.op("ReduceMax", scores, axes=[1], keepdims=0)
        enough = self.op("GreaterOrEqual", top, self.op("Gather", self.const(lowest), best, axis=0))
        code = self.op("Gather", self.const(codes.astype(np.int64)), best, axis=0)
        self._name(self.op("Where", enough, code, self.const(np.array(255, np.int64))), "class")
        self._name(scores, "scores")
        make = self._helper
        graph = make.make_graph(
            self._nodes,
            "classifier",
            [make.make_tensor_value_info(self.pixels, self._type.FLOAT, ["n", self.n_bands])],
            [
                make.make_tensor_value_info("class", self._type.INT64, ["n"]),
                make.make_tensor_value_info("scores", self._type.DOUBLE, ["n", len(codes)]),
            ],
            self._constants,
        )
        opsets = [make.make_opsetid("", OPSET), make.make_opsetid(TREE_DOMAIN, TREE_OPSET)]
        model = make.make_model(graph, opset_imports=opsets, ir_version=8)
        make.set_model_props(model, told)
        content: bytes = model.SerializeToString()
        return content

    def _name(self, value: str, name: str) -> None:
        node = self._helper.make_node("Identity", [value], [name])
        self._nodes.append(node)
