"""Previews: layers that are looked at and are in no list."""

import hashlib

from kitesort.core.recipe import Recipe, as_data
from kitesort.store.database import transaction
from kitesort.store.layers import get_layer
from kitesort.store.models import LayerRow
from kitesort.store.records import Layer

KEPT_DRAFTS = 60  # of a study


def store_draft(study_id: int, recipe: Recipe, title: str) -> Layer:
    """The same recipe is the same preview; the oldest ones go."""
    key = hashlib.blake2s(recipe.model_dump_json().encode(), digest_size=16).hexdigest()
    with transaction():
        (
            LayerRow.insert(
                study_id=study_id, title=title, recipe=as_data(recipe), removed=True, draft_key=key
            )
            .on_conflict(
                conflict_target=[LayerRow.study_id, LayerRow.draft_key],
                conflict_where=LayerRow.draft_key.is_null(False),
                action="ignore",
            )
            .execute()
        )
        row = LayerRow.get(LayerRow.study_id == study_id, LayerRow.draft_key == key)
        _forget_old_drafts(study_id)
        return get_layer(row.id)


def _forget_old_drafts(study_id: int) -> None:
    drafts = LayerRow.study_id == study_id, LayerRow.draft_key.is_null(False)
    newest = (
        LayerRow.select(LayerRow.id).where(*drafts).order_by(LayerRow.id.desc()).limit(KEPT_DRAFTS)
    )
    kept = [row.id for row in newest]
    LayerRow.delete().where(*drafts, LayerRow.id.not_in(kept or [0])).execute()
