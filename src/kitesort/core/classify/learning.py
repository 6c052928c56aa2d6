"""How a classifier learnt, round by round."""

from collections.abc import Iterable
from dataclasses import dataclass

from kitesort.core.classify.methods.neural_network import TrainedNeuralNetwork
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.errors import InputError


@dataclass(frozen=True)
class Round:
    """Counted from 1: loss on the pixels that teach, and the share of those held out that were told
    right, None where none were."""

    number: int
    loss: float
    right: float | None


def rounds_of(model: TrainedClassifier) -> list[Round]:
    """Raises InputError : a method that does not learn in rounds."""
    if not isinstance(model, TrainedNeuralNetwork):
        raise InputError("Only a neural network learns in rounds that are told.")
    return rounds_in(model.curve)


def rounds_in(curve: Iterable[tuple[float, float]]) -> list[Round]:
    """Of pairs of loss and share told right (-1 where none were held out)."""
    return [
        Round(number, float(loss), float(right) if right >= 0 else None)
        for number, (loss, right) in enumerate(curve, start=1)
    ]
