"""The worker process: one per database; picks up what a killed one left behind."""

import asyncio
import logging
import signal

import psycopg
from procrastinate import App
from procrastinate.jobs import Status

from kitesort.runs.queue import QUEUE, RunQueue, make_worker_app
from kitesort.store.classifiers import known_classifier_files
from kitesort.store.database import connect_database
from kitesort.store.files import classifier_folder, layer_folder, sweep_exports, sweep_strays
from kitesort.store.layers import kept_files
from kitesort.store.received import sweep_uploads
from kitesort.store.runs import list_waiting, take_interrupted

WORKER_LOCK = 7462
SWEEP_SECONDS = 3600.0
log = logging.getLogger(__name__)


def run_worker(conninfo: str) -> None:
    """Work until told to stop (SIGTERM or SIGINT)."""
    connect_database(conninfo)
    with psycopg.connect(conninfo, autocommit=True) as guard:
        guard.execute("SELECT pg_advisory_lock(%s)", (WORKER_LOCK,))
        _recover(conninfo)
        asyncio.run(_work(make_worker_app(conninfo)))


def _recover(conninfo: str) -> None:
    """Put interrupted runs back in the queue and sweep what they left on disk."""
    again = take_interrupted()
    swept = sweep_strays(layer_folder(), kept_files())
    swept += sweep_strays(classifier_folder(), known_classifier_files())
    if again or swept:
        log.warning("Took up %d interrupted runs, removed %d stray files", len(again), swept)
    queue = RunQueue(conninfo).open()
    for run_id in list_waiting():
        queue.enqueue(run_id)
    queue.close()


async def _work(app: App) -> None:
    async with app.open_async():
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=0):
            await app.job_manager.finish_job(job, status=Status.FAILED, delete_job=True)
        task = asyncio.create_task(
            app.run_worker_async(
                queues=[QUEUE],
                concurrency=1,
                install_signal_handlers=False,
                listen_notify=True,
                fetch_job_polling_interval=5,
                delete_jobs="always",
                shutdown_graceful_timeout=3,
            )
        )
        loop = asyncio.get_running_loop()
        sweeping = asyncio.create_task(_sweep_now_and_then())
        for number in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(number, task.cancel)
        try:
            await task
        except asyncio.CancelledError:
            log.info("Worker stopped")
        finally:
            sweeping.cancel()


async def _sweep_now_and_then() -> None:
    """What was never sent to the end, and what has long been taken away; whatever stands in the
    way, runs go on."""
    while True:
        try:
            swept = await asyncio.to_thread(sweep_uploads)
            if swept:
                log.warning("Removed %d uploads that were never finished", swept)
            await asyncio.to_thread(sweep_exports)
        except Exception as error:
            log.warning("Uploads and exports could not be swept: %s", error)
        await asyncio.sleep(SWEEP_SECONDS)
