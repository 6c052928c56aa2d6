"""Pieces of ground that belong together, as shapes with what is measured of them."""
