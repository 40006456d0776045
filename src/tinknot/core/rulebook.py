"""The site's rule book: every default with the site's own values laid over it. No default stands in code."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from tinknot.core.errors import FieldError, InputError
from tinknot.core.rule import Rule
from tinknot.core.rules import RULES

DEFAULTS: Mapping[str, Rule] = {rule.key: rule for rule in RULES}


@dataclass(frozen=True)
class RuleBook:
    """The defaults with the site's own values laid over them."""

    own: Mapping[str, Any]

    @classmethod
    def of(cls, own: Mapping[str, Any] | None = None) -> "RuleBook":
        """A rule book with `own` values; raises InputError naming each value that cannot be."""
        faults = []
        for key, value in (own or {}).items():
            rule = DEFAULTS.get(key)
            path = "/" + key.replace("~", "~0").replace("/", "~1")
            if rule is None:
                faults.append(FieldError(path, "is no rule of the rule book"))
            elif isinstance(rule.value, list):
                if not (isinstance(value, list) and all(isinstance(v, str) for v in value)):
                    faults.append(FieldError(path, "must be a list of names"))
            elif isinstance(value, bool) or not isinstance(value, (int, float)):
                faults.append(FieldError(path, f"must be a number in {rule.unit}"))
            elif not ((rule.low is None or value >= rule.low) and (rule.high is None or value <= rule.high)):
                faults.append(FieldError(path, f"must be between {rule.low:g} and {rule.high:g} {rule.unit}"))
        if faults:
            raise InputError(*faults)
        return cls(dict(own or {}))

    @cached_property
    def _values(self) -> dict[str, Any]:
        return {key: rule.value for key, rule in DEFAULTS.items()} | dict(self.own)

    def __getitem__(self, key: str) -> Any:
        return self._values[key]

    def number(self, key: str) -> float:
        """The number of rule `key`, in its unit."""
        return float(self[key])

    def names(self, key: str) -> tuple[str, ...]:
        """The names rule `key` lists."""
        return tuple(self[key])
