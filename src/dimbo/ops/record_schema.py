"""Prints docs/formats/client-record.schema.json, from the columns of a database that is made for it and thrown away."""

from __future__ import annotations

import json
import shutil
import sys
import tempfile
from pathlib import Path

import psycopg

from dimbo.store.migrate import migrate
from dimbo.store.records import whole
from dimbo.work.records.taking_out import schema

from .cluster import OWNER, Cluster


def schema_text() -> str:
    """The schema of record.json, as the file has it."""
    folder = Path(tempfile.mkdtemp(prefix="dimbo-schema-"))
    folder.chmod(0o755)
    cluster = Cluster(folder / "postgres", durable=False)
    try:
        cluster.start()
        migrate(cluster.url(OWNER))
        with psycopg.connect(cluster.url(OWNER)) as conn:
            return json.dumps(schema(whole.columns(conn)), ensure_ascii=False, indent=1) + "\n"
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    sys.stdout.write(schema_text())
