"""Names of people, as they stand under signatures: what is seen is what is there, and no two look alike."""

import unicodedata
from functools import lru_cache

from confusable_homoglyphs import confusables

from tinknot.core.errors import InputError

_UNSEEN = {"Cc", "Cf", "Co", "Cn", "Cs", "Zl", "Zp"}  # control, turning, private, unassigned, line ends


def checked(name: str, path: str = "/name") -> str:
    """A name as it is kept: composed (Unicode NFC), one space between its words. Raises InputError at `path`
    for signs that cannot be seen or that turn the writing round, and for letters of several scripts in one
    word."""
    kept = " ".join(unicodedata.normalize("NFC", name).split())
    if any(unicodedata.category(c) in _UNSEEN for c in kept):
        raise InputError.at(path, "has signs in it that cannot be seen; type it with letters only")
    if not any(c.isalpha() for c in kept):
        raise InputError.at(path, "needs a letter")
    mixed = next((word for word in kept.split() if confusables.is_mixed_script(word)), None)
    if mixed:
        raise InputError.at(path, f"mixes letters of several scripts in “{mixed}”; type it in one of them")
    return kept


@lru_cache(maxsize=4096)
def looks(name: str) -> str:
    """What a name looks like: two names that look alike have the same (after Unicode TR39, with small and
    capital letters, accents and spaces let alone)."""
    flat = unicodedata.normalize("NFKD", name).casefold()
    return "".join(_like(c) for c in flat if not unicodedata.combining(c) and not c.isspace())


_ALIKE = str.maketrans({"0": "o", "1": "l", "|": "l", "i": "l", "ı": "l"})


@lru_cache(maxsize=4096)
def _like(sign: str) -> str:
    """The sign that stands for all that look like it: the Latin one where there is one."""
    found = confusables.is_confusable(sign, greedy=True, preferred_aliases=["latin"])
    alike = [h["c"] for f in found or () for h in f["homoglyphs"] if h["c"].isascii()]
    return min([*alike, sign]).casefold().translate(_ALIKE) if not sign.isascii() else sign.translate(_ALIKE)
