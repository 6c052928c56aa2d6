"""The study's records in PostgreSQL and its files on disk."""
