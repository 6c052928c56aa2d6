"""Start everything on one machine: database, demo study, worker, server."""
