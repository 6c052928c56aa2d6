"""Supervised classifiers behind one protocol and one registry."""
