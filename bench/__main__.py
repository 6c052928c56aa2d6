"""``bench/run [ROW …]``: measure, and print each result as soon as its row is done."""

import argparse
import os
import traceback
from contextlib import ExitStack
from pathlib import Path

from bench.sizes import TINY


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="bench/run", description=__doc__)
    parser.add_argument("rows", nargs="*", metavar="ROW", help="only these rows; all by default")
    parser.add_argument("--list", action="store_true",
                        help="name the rows, and what each stands beside")  # fmt: skip
    parser.add_argument("--folder", type=Path, help="where the data to measure on is kept")
    parser.add_argument("--tiny", action="store_true",
                        help="tiny data, to see that rows run")  # fmt: skip
    parser.add_argument("--against", metavar="REV",
                        help="measure the rows of an older version alternately")  # fmt: skip
    parser.add_argument("--rounds", type=int, default=3, help="of --against; 3 by default")
    options = parser.parse_args()
    if options.tiny:
        os.environ[TINY] = "1"
    default = "bench-tiny" if options.tiny else "bench"
    options.folder = (options.folder or Path("data") / default).resolve()
    return options


def main() -> int:
    options = _options()
    from bench.rows import ROWS  # sizes are read when the rows are

    if options.list:
        for name, row in ROWS.items():
            print(f"{name:<16} beside {row.compared_with}")
        return 0
    names = options.rows or list(ROWS)
    if unknown := sorted(set(names) - set(ROWS)):
        print(f"There is no row {', '.join(unknown)}. bench/run --list names them.")
        return 2
    options.folder.mkdir(parents=True, exist_ok=True)
    if options.against:
        from bench.against import compare_versions

        return compare_versions(options.against, names, options.folder, options.rounds)
    return _measure_all(names, options.folder)


def _measure_all(names: list[str], folder: Path) -> int:
    """Exit status: 1 when a row could not be measured."""
    from bench.ground import Ground
    from bench.result import machine, print_result
    from bench.rows import ROWS

    print(machine(), flush=True)
    failed = []
    with ExitStack() as parts:
        ground = Ground(folder, parts)
        for name in names:
            try:
                results = ROWS[name].results(ground)
            except Exception:  # the other rows are measured all the same
                traceback.print_exc()
                failed.append(name)
                continue
            for result in results:
                print_result(name, result)
    if failed:
        print(f"Could not be measured: {', '.join(failed)}")
    return 1 if failed else 0


if __name__ == "__main__":
    raise SystemExit(main())
