"""Kite Sort: land cover classification of multispectral scenes, in the browser."""

__version__ = "0.1.0"
