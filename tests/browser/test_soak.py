"""Short forms of `bin/bench --soak`: kills, a full disk, uploads beside other work, people at tablets."""

from __future__ import annotations

import pytest

from tests import soak


def test_nothing_that_was_acknowledged_is_lost_by_a_kill():
    written, lost, failed = soak.kills(1)
    assert written > 5
    assert (lost, failed) == (0, 0)


def test_a_log_that_a_killed_server_was_capturing_ends_at_the_cut_and_says_so():
    seen_s, log, told = soak.cut_capture(6.0)
    assert log["duration_s"] >= seen_s - 1.0
    assert abs(float(log["name"].split()[-2]) - log["duration_s"]) < 0.5
    assert "It ends at" in " ".join(note["text"] for note in log["notes"])
    assert "are kept, to the cut" in told


def test_a_full_disk_is_said_and_nothing_half_stays():
    told = soak.full_disk()
    if not told:
        pytest.skip("no small disk can be mounted here: that needs the right to mount")
    assert told[0] == "with room: read"
    assert told[-2] == "room again: read"
    assert "[507]" in told[1]
    assert "The disk is full" in told[1]
    assert "[507]" in told[2]
    assert told[3].endswith("[200]")
    assert told[-1].endswith(": 0")


def test_odd_files_and_many_at_once_leave_the_bench_answering(address):
    """What each costs is told by `bin/bench`; here: answered in words, and the server itself stays small."""
    found = soak.uploads(address, 60_000, 2)
    assert len(found) == 7
    for what, _, most, _, _ in found:
        assert most < 1_000, f"{what}: the server held {most:.0f} MB"
    assert soak.load(address, 6, 0.2, 4.0).errors == []
