"""Recipes without a study."""

from typing import Any

from kitesort.core.recipe import LayerReader, Node, Recipe, apply_operation


def stepped(recipe: Recipe, operation: str, settings: dict[str, Any], reader: LayerReader) -> Node:
    """One operation more, on one input."""
    return apply_operation((recipe,), operation, settings, reader, lambda i: f"Layer {i}")
