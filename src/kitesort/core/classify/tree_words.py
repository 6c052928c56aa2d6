"""A decision tree as it is read: questions one under the other, and answers."""

from dataclasses import dataclass

from kitesort.core.classify.methods._forest import TrainedForest
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.errors import InputError

MOST_LINES = 2000


@dataclass(frozen=True)
class TreeLine:
    """A question (``role`` and ``limit``: is the value at most that?), or an answer (``code`` and
    the ``share`` of the training pixels there that are of it). ``depth``: how many questions came
    before; ``branch``: what the last of them was answered with, None at the top."""

    depth: int
    branch: bool | None
    role: str | None
    limit: float | None
    code: int | None
    share: float | None


def lines_of(model: TrainedClassifier) -> list[TreeLine]:
    """From the top, "yes" before "no".

    Raises
    ------
    InputError : not one tree, or one with more lines than anybody reads.
    """
    if not isinstance(model, TrainedForest) or len(model.trees.roots) != 1:
        raise InputError("Only a single decision tree can be read.")
    trees = model.trees
    if len(trees.feature) > MOST_LINES:
        raise InputError(
            f"The tree has {len(trees.feature):,} lines, more than anybody reads. Make it flatter."
        )
    found: list[TreeLine] = []
    waiting: list[tuple[int, int, bool | None]] = [(int(trees.roots[0]), 0, None)]
    while waiting:
        node, depth, branch = waiting.pop()
        band = int(trees.feature[node])
        if band < 0:
            shares = model.shares[trees.leaf[node]]
            best = int(shares.argmax())
            code, share = int(model.codes[best]), float(shares[best])
            found.append(TreeLine(depth, branch, None, None, code, share))
        else:
            limit = float(trees.threshold[node])
            found.append(TreeLine(depth, branch, model.roles[band], limit, None, None))
            waiting.append((int(trees.right[node]), depth + 1, False))
            waiting.append((int(trees.left[node]), depth + 1, True))
    return found
