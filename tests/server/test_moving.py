"""A shop moves to another database and back without a loss, by the commands that people run."""

from __future__ import annotations

import os
import subprocess
import sys

from tests.conftest import ROOT

#: A server of PostgreSQL with an empty database, where the test script has started one.
POSTGRES = os.environ.get("VENTMAP_TEST_POSTGRES", "")


def manage(data: str, *command: str, url: str = "") -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "VENTMAP_DATA": data, "DATABASE_URL": url}
    return subprocess.run(
        [sys.executable, str(ROOT / "manage.py"), *command],
        env=env,
        capture_output=True,
        text=True,
        check=False,
    )


def told(ran: subprocess.CompletedProcess[str]) -> str:
    assert ran.returncode == 0, ran.stderr
    return ran.stdout.splitlines()[-1].split(". Start")[0]


def test_every_row_arrives_as_it_left_and_a_shop_is_never_written_over(tmp_path):
    data = str(tmp_path / "data")
    assert manage(data, "migrate", "--verbosity", "0").returncode == 0
    assert manage(data, "seed_demo").returncode == 0
    there, back = POSTGRES or f"sqlite:///{tmp_path}/there.sqlite3", f"sqlite:///{tmp_path}/back.sqlite3"
    out = told(manage(data, "move_to", there))
    assert "equal by count and by SHA-256" in out
    assert told(manage(data, "move_to", back, url=there)) == out, "the same rows come back"
    again = manage(data, "move_to", there)
    assert again.returncode == 2
    assert "a shop in that database already" in again.stderr
    for url in ("no address", "postgres://nobody@127.0.0.1:1/none"):
        wrong = manage(data, "move_to", url)
        assert wrong.returncode == 2, wrong.stderr
        assert wrong.stderr.strip().count("\n") == 0, wrong.stderr
