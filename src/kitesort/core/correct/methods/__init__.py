"""Corrections of one scene: one file each, with its ``SPEC``."""
