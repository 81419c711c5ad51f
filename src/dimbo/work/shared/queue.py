"""The job queue in PostgreSQL: what is put in with the caller's transaction, and what workers run."""

from __future__ import annotations

from procrastinate import App, SyncPsycopgConnector

ANALYSE = "analyse-photograph"
REMIND = "remind-and-carry"
FORGET = "forget-removed"

queue = App(connector=SyncPsycopgConnector())
"""Defers only, on a connection that the caller brings; docs/architecture.md shows the road of a photograph."""
