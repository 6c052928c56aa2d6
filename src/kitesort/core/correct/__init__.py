"""Turning digital numbers into physical values."""
