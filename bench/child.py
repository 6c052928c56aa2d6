"""``python -m bench.child ROW FOLDER FILE``: one row in a process of its own, results as JSON."""

import json
import sys
from contextlib import ExitStack
from dataclasses import asdict
from pathlib import Path

from bench.ground import Ground
from bench.rows import ROWS


def main() -> None:
    row, folder, target = sys.argv[1], Path(sys.argv[2]), Path(sys.argv[3])
    with ExitStack() as parts:
        results = ROWS[row].results(Ground(folder, parts))
    target.write_text(json.dumps([asdict(result) for result in results]))


if __name__ == "__main__":
    main()
