"""What compiled kernels have in common."""

from numba import types

KERNEL = {"nogil": True, "cache": True}
# Of pieces that are called for every pixel: a call counts who holds each array, which takes longer
# than what most of them do.
INLINE = {**KERNEL, "inline": "always"}


def read_only(dtype: types.Type, n_dimensions: int) -> types.Array:
    """Contiguous array that is only read: what comes from another process cannot be written to."""
    return types.Array(dtype, n_dimensions, "C", readonly=True)
