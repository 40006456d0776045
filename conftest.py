"""Which files are looked into for examples in docstrings."""

from pathlib import Path

CORE = Path(__file__).parent / "src" / "tinknot" / "core"


def pytest_ignore_collect(collection_path: Path) -> bool | None:
    """Of the core only what has some: a module is compiled anew for being looked into."""
    if collection_path.suffix == ".py" and collection_path.is_relative_to(CORE):
        return ">>>" not in collection_path.read_text(encoding="utf-8") or None
    return None
