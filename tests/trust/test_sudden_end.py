"""A server killed in the middle of the work, a disk after a power loss: nothing acknowledged is lost.
`make bench` does the first 200 times and the second with 500 disks."""

import os
from pathlib import Path

from bench import kills, power

from tests.conftest import nightly
from tinknot.services import safekeeping


@nightly
def test_kills_lose_nothing():
    found = kills.run(2, seed=3)
    assert found["acknowledged"] >= 1
    assert (found["lost"], found["pictures_broken"], found["chains_broken"], found["unopened"]) == (
        0,
        0,
        0,
        0,
    )


@nightly
def test_a_power_loss_loses_nothing_that_was_acknowledged():
    found = power.run(60, seed=2, events=60)
    assert found["syncs"] > 60
    assert (found["acknowledged_lost"], found["unopened"], found["chains_broken"]) == (0, 0, 0)


@nightly
def test_the_simulated_disk_can_lose():
    """With one wait for the disk fewer than the application takes, acknowledged events are gone."""
    assert power.run(40, seed=2, events=60, synchronous=1)["acknowledged_lost"] > 0


def test_what_a_kill_left_lying_about_is_swept_up_at_the_start(tmp_path: Path):
    (tmp_path / "photos").mkdir()
    (tmp_path / ".restore-x1" / "photos").mkdir(parents=True)
    left = [
        tmp_path / "photos" / ".abc.1.part",
        tmp_path / ".restore-x1" / "photos" / "p",
        tmp_path / ".secret.2.part",
    ]
    kept = [tmp_path / "photos" / ("f" * 64), tmp_path / "tinknot.db"]
    for file in left + kept:
        file.write_text("x")
    safekeeping.sweep(tmp_path)
    assert not any(f.exists() for f in left)
    assert all(f.exists() for f in kept)
    assert sorted(os.listdir(tmp_path)) == ["photos", "tinknot.db"]
