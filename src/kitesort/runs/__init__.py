"""Durable background work: queued in PostgreSQL, done by the worker."""
