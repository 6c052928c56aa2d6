"""``python -m kitesort.launch [run|worker|server|catalogue|warm|openapi]``."""

import argparse
import gc
import ipaddress
import json
import logging
import os
import sys
from pathlib import Path

from kitesort.core.errors import NewerDatabaseError
from kitesort.launch.orphan import end_with_starter
from kitesort.launch.postgres import LaunchError
from kitesort.launch.supervisor import Options, Supervisor

DEFAULT_PORT = 8731


def main(arguments: list[str] | None = None) -> int:
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s: %(message)s")
    options = _parser().parse_args(arguments)
    try:
        return int(PARTS[options.part](options))
    except (LaunchError, NewerDatabaseError) as error:
        print(error, file=sys.stderr)
        return 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="./run", description="Start Kite Sort on this machine.")
    parser.add_argument("part", nargs="?", default="run", choices=list(PARTS),
                        help=argparse.SUPPRESS)  # fmt: skip
    parser.add_argument("--port", type=int, default=DEFAULT_PORT, help="port of the web page")
    parser.add_argument("--host", default="127.0.0.1", help="loopback address to listen on")
    parser.add_argument("--data", type=Path, default=Path(os.environ.get("KITESORT_DATA", "data")),
                        help="folder for the database, uploads and kept layers")  # fmt: skip
    parser.add_argument(
        "--folder",
        type=Path,
        action="append",
        default=[],
        metavar="PATH",
        help="a folder that scenes may be taken from (may be given again)",
    )
    parser.add_argument(
        "--catalogue",
        action="append",
        default=[],
        metavar="ADDRESS",
        help="a scene catalogue (STAC API) that may be asked (may be given again)",
    )
    parser.add_argument(
        "--downloads",
        action="append",
        default=[],
        metavar="ADDRESS",
        help="another address that a catalogue's files may be fetched from",
    )
    parser.add_argument(
        "--pictures",
        type=Path,
        action="append",
        default=[],
        metavar="FILE",
        help="a JSON list of tile services for reference pictures (see the user guide)",
    )
    parser.add_argument("--no-demo", action="store_true", help="do not make the demo study")
    return parser


def _run(options: argparse.Namespace) -> int:
    _require_loopback(options.host)
    chosen = Options(
        options.host,
        options.port,
        options.data,
        not options.no_demo,
        tuple(options.folder),
        tuple(options.catalogue),
        tuple(options.downloads),
        tuple(options.pictures),
    )
    return Supervisor(chosen).run()


def _require_loopback(host: str) -> None:
    try:
        loopback = host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        loopback = False
    if not loopback:
        raise LaunchError(
            f"Kite Sort does not listen on {host}: there is no sign-in yet, so that anyone who "
            "reaches the address could change your studies. Use 127.0.0.1."
        )


def _worker(_: argparse.Namespace) -> int:
    from kitesort.core.raster.handles import raise_limit
    from kitesort.runs.worker import run_worker
    from kitesort.store.database import dsn

    end_with_starter()
    raise_limit()
    _leave_programs_alone()
    run_worker(dsn())
    return 0


def _server(options: argparse.Namespace) -> int:
    import uvicorn

    from kitesort.api.main import create_app
    from kitesort.core.raster.handles import raise_limit

    end_with_starter()
    raise_limit()
    app = create_app()
    _leave_programs_alone()
    uvicorn.run(
        app, host=options.host, port=options.port, log_level="warning",
        timeout_graceful_shutdown=2, timeout_keep_alive=KEEP_ALIVE,
    )  # fmt: skip
    return 0


def _leave_programs_alone() -> None:
    """Whoever collects what is not needed any more need not look through all modules and compiled
    kernels each time: half a second in the middle of an answer."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(*COLLECT_AFTER)


COLLECT_AFTER = (10_000, 20, 20)  # new objects; rounds among the young; rounds among the older
# Seconds; longer than a browser leaves a connection unused, so that none is closed under a request.
KEEP_ALIVE = 120


def _catalogue(options: argparse.Namespace) -> int:
    """The stand-in catalogue of made-up scenes; they are made at the first start, out of the way
    of everything else."""
    import uvicorn

    from kitesort.demo.generate import generate_catalogue
    from kitesort.standin.catalogue import create_catalogue

    end_with_starter()
    os.nice(10)
    folder = generate_catalogue(options.data / "demo")
    uvicorn.run(
        create_catalogue(folder), host=options.host, port=options.port, log_level="warning",
        timeout_graceful_shutdown=2,
    )  # fmt: skip
    return 0


def _warm(_: argparse.Namespace) -> int:
    """Compile the kernels into their cache, so that nobody's first click waits for it."""
    from kitesort.core.classify import registry
    from kitesort.core.derive.formula import program
    from kitesort.core.derive.registry import DERIVATIONS
    from kitesort.core.raster import resample
    from kitesort.core.training import subsets

    warm = resample.warm() and program.warm() and subsets.warm()
    return 0 if registry.CLASSIFIERS and DERIVATIONS and warm else 1


def _openapi(_: argparse.Namespace) -> int:
    from kitesort.api.main import create_app

    print(json.dumps(create_app().openapi(), indent=1, ensure_ascii=False))
    return 0


PARTS = {
    "run": _run,
    "worker": _worker,
    "server": _server,
    "catalogue": _catalogue,
    "warm": _warm,
    "openapi": _openapi,
}

if __name__ == "__main__":
    sys.exit(main())
