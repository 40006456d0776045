"""The site's keys: made once, kept beside the database, never half-made, missed in words."""

from pathlib import Path

import pytest

from tinknot.services import keys, opening, pins, settings, site
from tinknot.services.signatures import signature_holds
from tinknot.store.database import db, writing
from tinknot.store.models import Setting


@pytest.fixture
def folder(tmp_path: Path):
    opening.open_site(tmp_path / "tinknot.db")
    yield tmp_path
    opening.close_site()


def test_made_at_the_first_use_and_the_same_from_then_on(folder: Path):
    assert not keys.folder().exists()
    first = site.public_key()
    assert site.public_key() == first
    opening.close_site()
    opening.open_site(folder / "tinknot.db")
    assert site.public_key() == first
    assert [p.name[:9] for p in keys.folder().iterdir()] == ["site-key-"]
    assert keys.folder().stat().st_mode & 0o077 == 0


def test_the_database_says_which_key_not_what_it_is(folder: Path):
    signature = site.sign("text")
    pins.seal("4071", "J-1", "parked", "e")
    assert signature_holds("text", signature, site.public_key())
    assert not signature_holds("other", signature, site.public_key())
    assert not signature_holds("text", "zz", site.public_key())
    stored = "".join(row.value for row in Setting.select())
    assert len(stored) < 60
    assert keys.site_key().private_bytes_raw().hex() not in stored


def test_a_key_whose_making_was_taken_back_is_not_the_sites(folder: Path):
    lost = ""

    def broken_off() -> None:
        nonlocal lost
        with writing():
            lost = site.public_key()
            raise RuntimeError

    with pytest.raises(RuntimeError):
        broken_off()
    assert lost
    assert settings.get("site-key-id") is None
    assert site.public_key() != lost


def test_a_missing_file_is_told_and_no_new_key_is_made_in_its_place(folder: Path):
    site.public_key()
    for file in keys.folder().iterdir():
        file.unlink()
    opening.close_site()
    opening.open_site(folder / "tinknot.db")
    with pytest.raises(keys.KeyMissing, match="Put it back from a backup"):
        site.sign("text")
    assert list(keys.folder().iterdir()) == []
    assert keys.forget_missing() == ["site-key"]
    assert site.public_key()


def test_keys_from_inside_the_database_are_moved_out_once(folder: Path):
    made = keys.site_key()
    with writing():
        settings.put("site-key", made.private_bytes_raw().hex())
        settings.drop("site-key-id")
    opening.close_site()
    opening.open_site(folder / "tinknot.db")
    assert settings.get("site-key") is None
    assert keys.site_key().private_bytes_raw() == made.private_bytes_raw()
    assert made.private_bytes_raw().hex().encode() not in Path(db.database).read_bytes()
