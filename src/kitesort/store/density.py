"""Counts of whole feature spaces, by a key that names layers and axes."""

from typing import Any

from kitesort.store.database import transaction
from kitesort.store.models import DensityRow


def find_density_row(key: str) -> dict[str, Any] | None:
    with transaction():
        row = DensityRow.get_or_none(DensityRow.key == key)
    return row.found if row else None


def store_density_row(key: str, found: dict[str, Any]) -> None:
    """The first one stays."""
    with transaction():
        DensityRow.insert(key=key, found=found).on_conflict_ignore().execute()
