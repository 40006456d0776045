"""What plans did not say themselves when they were stored: read off their words once more, as every screen
did then.

Only for plans of before; nothing that is planned now comes here, and nothing is to be added."""

from collections.abc import Mapping
from typing import Any

from tinknot.core.figures import found_in

_BATCHES = {
    "sheaths": "Take both sheaths off",
    "cores-A": "Cut the cores on A",
    "cores-B": "Cut the cores on B",
    "strip-A": "Strip the cores on A",
    "strip-B": "Strip the cores on B",
    "park": "Thread everything on",
    "surface-cores": "Wipe the cores clean",
    "inspect-cores": "Look at every core",
    "wrap-mica": "Wind mica on every core",
    "wrap-mastic": "Fill the steps with mastic",
    "fold": "Bend the armour back",
    "armour-A": "Cut armour and bedding on A",
    "armour-B": "Cut armour and bedding on B",
    "surface-sheath": "Roughen both sheaths",
    "crimps": "Crimp the wires, each for itself",
}
_SEALS = {
    "Shrink": "Shrink the core sleeves",
    "Close": "Close the core sleeves",
    "Insulate": "Insulate the cores with tape",
    "Cap": "Cap the open ends",
}
_TEXTS = {
    "cores-A": "Each measured from the sheath cut, square, one core at a time.",
    "cores-B": "Each measured from the sheath cut, square, one core at a time.",
    "park": "In this order, over clean cable. None of them can be put on later.",
}
_VERBS = {
    "Crimp": "Crimped",
    "Bolt": "Bolted",
    "Solder": "Soldered",
    "Fit": "Fitted",
    "Shrink": "Shrunk",
    "Close": "Closed",
    "Cap": "Capped",
    "Insulate": "Wound",
    "Wind": "Wound",
    "Pour": "Poured",
}
_KINDS = {
    "cut": "Cut",
    "park": "Threaded on",
    "wrap": "Wound",
    "armour": "Bent back",
    "bond": "Clamped",
    "fit": "Closed",
    "mix": "Mixed: start the clock",
    "surface": "Clean",
    "inspect": "Looked at, good",
    "test": "Readings stand",
    "wait": "It is cool",
    "label": "It is fixed",
}
FORGOTTEN = "not-parked"  # the one fault of a part that was not threaded on
_HOLDS = {"connectors": "connector", "before-closing": "core-cover"}
_LOOKED_AT = ("core-sleeve", "core-tape", "outer-sleeve", "inner-sleeve", "barrier", "end-piece")


def said(step: Mapping[str, Any]) -> dict[str, Any]:
    """What a stored step of before comes to."""
    title, kind, batch = str(step.get("title", "")), str(step.get("kind", "")), str(step.get("batch") or "")
    verb = title.split(" ")[0]
    joined = f"{verb} the {'connectors' if verb == 'Fit' else 'cores'}"
    titled = {"join": joined, "seal-cores": _SEALS.get(verb, title)}.get(batch, _BATCHES.get(batch, title))
    step_id, layer = str(step.get("id", "")), str(step.get("layer") or "")
    own = kind == "inspect" and layer.startswith(_LOOKED_AT)
    return {
        "batch_title": titled if batch else "",
        "batch_text": _TEXTS.get(batch, ""),
        "action": "It is cured" if step.get("cure") else _VERBS.get(verb) or _KINDS.get(kind, "Done"),
        "taken": next((t for t in ("found", "before", "after") if step_id.startswith(f"test.{t}.")), ""),
        "pictured": _HOLDS.get(step["hold"], "") if step.get("hold") else "own" if own else "",
        "recut": step_id.startswith("cut.core."),
    }


def cut_kind(cut: Mapping[str, Any]) -> str:
    """What a stored cut of before is of a round cable; nothing on a flat one."""
    first = str(cut.get("layer", "")).split(" ")[0]
    return first if first in ("sheath", "armour", "bedding", "core", "insulation") else ""


_TELLING = {
    "": ("warnings", "safety", "chosen_together"),
    "steps": ("title", "text", "caution", "look", "fails", "batch_title", "batch_text"),
    "cuts": ("layer", "caution"),
    "choices": ("title", "advice", "decided"),
    "choices/candidates": ("reason",),
    "picks": ("title", "need", "advice"),
    "picks/offers": ("reason",),
    "parts": ("title", "reason"),
    "parts/rejected": ("reason",),
    "settings": ("setting", "why"),
    "faults": ("seen", "causes"),
    "faults/mends": ("words",),
    "remedies": ("title", "why"),
    "insert": ("words", "checked"),
    "trace/loops": ("words",),
    "trace/zone": ("words",),
    "trace/node_cuts": ("words",),
    "trace/circuit": ("words",),
}  # by where it lies in a plan, what is told in sentences there


def figured(plan: dict[str, Any]) -> dict[str, Any]:
    """A stored plan with the figures of its sentences beside them."""

    def go(value: Any, path: str) -> Any:
        if isinstance(value, list):
            return [go(v, path) for v in value]
        if not isinstance(value, dict):
            return value
        inner = {k: go(v, f"{path}/{k}".strip("/")) for k, v in value.items()}
        told = {name: value[name] for name in _TELLING.get(path, ()) if name in value}
        return inner | ({"figures": _found(told)} if path in _TELLING else {})

    new: dict[str, Any] = go(plan, "")
    return new


def _found(told: Mapping[str, Any]) -> list[dict[str, Any]]:
    return [
        {"of": of, **vars(f)}
        for name, value in told.items()
        for of, text in (
            [(f"{name}/{n}", v) for n, v in enumerate(value)] if isinstance(value, list) else [(name, value)]
        )
        if isinstance(text, str)
        for f in found_in(text)
    ]
