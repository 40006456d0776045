"""The draft of a model: the same fields by the same names, as far as they are filled in. A figure is kept as
it was typed, and doubted in words, not refused."""

from collections.abc import Collection, Mapping
from functools import reduce
from operator import or_
from types import NoneType, UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from annotated_types import Ge, Gt, MinLen
from pydantic import Field, create_model
from pydantic.fields import FieldInfo

from tinknot.core.model import Strict

MOST = 1e6
Drafts = Mapping[type[Strict], type[Strict]]  # the draft of a model that stands inside another


def drafted(
    model: type[Strict],
    name: str,
    words: str,
    drafts: Drafts | None = None,
    usual: Mapping[str, Any] | None = None,
    needed: Collection[str] = (),
    fields: Collection[str] | None = None,
) -> type[Strict]:
    """The draft of `model`, called `name`. `drafts`: those of the models inside it; `usual`: what stands
    where nothing is filled in yet and the model has no default; `needed`: fields that even a draft must
    have; `fields`: only these."""
    given: dict[str, Any] = {}
    for key, field in model.model_fields.items():
        if fields is not None and key not in fields:
            continue
        kind = _loose(field.rebuild_annotation(), drafts or {}, field.description or "")
        if key in needed:
            given[key] = (kind, ...)
            continue
        nothing = _nothing(kind, field, (usual or {}).get(key))
        annotation = kind | None if nothing is None else kind
        given[key] = (annotation, Field(nothing, alias=field.alias))
    return create_model(name, __base__=Strict, __doc__=words, __module__=model.__module__, **given)


def _nothing(kind: Any, field: FieldInfo, usual: Any) -> Any:
    """What stands where nothing is filled in."""
    bare = get_args(kind)[0] if get_origin(kind) is Annotated else kind
    if usual is not None:
        return usual
    if bare is float or _optional(bare):
        return None
    if get_origin(bare) is list and field.is_required():
        return []
    if isinstance(bare, type) and issubclass(bare, Strict):
        return bare()
    return None if field.is_required() else field.get_default(call_default_factory=True)


def _optional(kind: Any) -> bool:
    return get_origin(kind) in (Union, UnionType) and NoneType in get_args(kind)


def _loose(kind: Any, drafts: Drafts, said: str = "") -> Any:
    """A type with its figures as they may be typed, and its models by their drafts; `said`: of its field."""
    origin = get_origin(kind)
    if origin is Annotated:
        inner, *about = get_args(kind)
        if inner is float:
            return _figure(about, said)
        many = get_origin(inner) is list  # of which a draft may have none yet
        kept = tuple(a for a in _about(about) if not (many and isinstance(a, MinLen)))
        loose = _loose(inner, drafts)
        return Annotated[(loose, *kept)] if kept else loose
    if origin in (Union, UnionType):
        return reduce(or_, (_loose(a, drafts, said) for a in get_args(kind)))
    if origin is list:
        return list[_loose(get_args(kind)[0], drafts)]  # type: ignore[misc]
    return drafts.get(kind, kind) if isinstance(kind, type) else kind


def _about(parts: list[Any]) -> list[Any]:
    """Every single thing that is said of a type."""
    return [a for x in parts for a in (x.metadata if isinstance(x, FieldInfo) else [x])]


def _figure(about: list[Any], said: str) -> Any:
    """Any figure; below zero only where the model has such."""
    low: list[Any] = [b.ge if isinstance(b, Ge) else b.gt for b in _about(about) if isinstance(b, (Ge, Gt))]
    least = 0.0 if low and min(low) >= 0 else -MOST
    unit = next((a.description for a in about if isinstance(a, FieldInfo) and a.description), said)
    words = f"{unit}, kept as typed" if unit else "kept as typed"
    return Annotated[float, Field(ge=least, le=MOST, description=words)]
