"""A PostgreSQL's rows as they stand, kept in files and put back."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

_TABLES = "SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename"
_NUMBERS = "SELECT sequencename, COALESCE(last_value, 1) FROM pg_sequences WHERE schemaname = 'public'"


def keep(connection: Any, folder: Path) -> None:
    """Every table of it, and where its numbers stand."""
    with connection.cursor() as cursor:
        for table in [row[0] for row in cursor.execute(_TABLES).fetchall()]:
            with cursor.copy(f'COPY "{table}" TO STDOUT (FORMAT BINARY)') as rows:
                (folder / f"{table}.rows").write_bytes(b"".join(bytes(part) for part in rows))
        (folder / "numbers.json").write_text(json.dumps(dict(cursor.execute(_NUMBERS).fetchall())))


def put_back(connection: Any, folder: Path, further: int) -> None:
    """All of them as they were kept; numbers go on `further` than they stood."""
    with connection.transaction(), connection.cursor() as cursor:
        # The rows were whole together when they were kept.
        cursor.execute("SET LOCAL session_replication_role = replica")
        tables = sorted(path.stem for path in folder.glob("*.rows"))
        cursor.execute("TRUNCATE " + ", ".join(f'"{table}"' for table in tables))
        for table in tables:
            with cursor.copy(f'COPY "{table}" FROM STDIN (FORMAT BINARY)') as rows:
                rows.write((folder / f"{table}.rows").read_bytes())
        for name, stood in json.loads((folder / "numbers.json").read_text()).items():
            cursor.execute("SELECT setval(%s::regclass, %s)", [f'"{name}"', stood + further])
