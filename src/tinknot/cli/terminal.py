"""What commands say on the terminal: JSON on standard output, errors on standard error."""

import json
import sys
from typing import Any, NoReturn

from tinknot.core.errors import InputError


def fail(fault: InputError) -> NoReturn:
    """Exit 2 with the contract's error object on standard error."""
    body = {
        "type": "tinknot:bad-input",
        "title": fault.title,
        "detail": str(fault),
        "errors": [{"path": e.path, "message": e.message} for e in fault.errors],
    }
    print(json.dumps({"error": body}, ensure_ascii=False), file=sys.stderr)
    sys.exit(2)


def emit(data: Any) -> None:
    """JSON on standard output."""
    print(json.dumps(data, ensure_ascii=False, indent=2))


def refuse(words: str) -> NoReturn:
    """Exit 1 with words on standard error."""
    print(words, file=sys.stderr)
    sys.exit(1)
