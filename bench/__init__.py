"""Speed and memory, measured beside general-purpose tools and beside older versions."""

import os

OLDER_MODULES = "KITESORT_BENCH_OLDER"

# The measuring modules of an older version go first where that version is measured with its own.
if _folder := os.environ.get(OLDER_MODULES):
    __path__.insert(0, _folder)
