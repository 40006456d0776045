"""The strict base of everything that comes in as JSON, and its limits."""

from collections.abc import Iterable
from typing import Annotated, Any, TypeVar

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    GetJsonSchemaHandler,
    ValidationError,
    create_model,
    model_validator,
)
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from tinknot.core.errors import FieldError, InputError
from tinknot.core.figures import Bound, figures_in

T = TypeVar("T", bound=BaseModel)


def integral(value: Any) -> Any:
    """5.0 as 5; anything else unchanged."""
    return int(value) if isinstance(value, float) and value.is_integer() else value


Length = Annotated[float, Field(ge=0, le=1e6, description="mm")]
PositiveLength = Annotated[float, Field(ge=1e-6, le=1e6, description="mm")]
Diameter = Annotated[float, Field(ge=1e-6, le=1e4, description="mm")]
Coordinate = Annotated[float, Field(ge=-1e6, le=1e6, description="mm")]
Temperature = Annotated[float, Field(ge=-100, le=1000, description="°C")]
Duration = Annotated[float, Field(ge=0, le=1e7, description="min")]
Percent = Annotated[float, Field(ge=0, le=99.9, description="%")]
MOST_WHOLE = 2**53  # beyond it JSON numbers are no longer whole
Whole = Annotated[int, BeforeValidator(integral), Field(ge=-MOST_WHOLE, le=MOST_WHOLE)]
Name = Annotated[str, Field(min_length=1, max_length=120)]


class Strict(BaseModel):
    """Refuses unknown fields, NaN and wrong types; null in an optional field means absent."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False, frozen=True)

    @model_validator(mode="before")
    @classmethod
    def _null_is_absent(cls, data: Any) -> Any:
        if not isinstance(data, dict):
            return data
        optional = {(f.alias or n) for n, f in cls.model_fields.items() if not f.is_required()}
        return {k: v for k, v in data.items() if v is not None or k not in optional}

    @classmethod
    def __get_pydantic_json_schema__(
        cls, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        json_schema = handler(schema)
        body = handler.resolve_ref_schema(json_schema)
        required = set(body.get("required", ()))
        for name, prop in body.get("properties", {}).items():
            if name not in required and {"type": "null"} not in prop.get("anyOf", ()):
                own = {k: prop.pop(k) for k in ("title", "description", "default") if k in prop}
                body["properties"][name] = own | {"anyOf": [dict(prop), {"type": "null"}]}
        return json_schema


def some_of(model: type[Strict], name: str, fields: Iterable[str], words: str) -> type[Strict]:
    """A model `name` of some fields of another, none of which has to be given; null is no value."""
    given: dict[str, Any] = {f: (model.model_fields[f].rebuild_annotation() | None, None) for f in fields}
    return create_model(name, __base__=Strict, __doc__=words, __module__=model.__module__, **given)


class Result(BaseModel):
    """What a calculator answers."""

    model_config = ConfigDict(
        extra="forbid", allow_inf_nan=False, frozen=True, json_schema_serialization_defaults_required=True
    )

    @model_validator(mode="before")
    @classmethod
    def _figures_beside(cls, data: Any) -> Any:
        """Sentences lose the marks of their figures; an answer that tells them has them beside."""
        if not isinstance(data, dict):
            return data
        own = dict(data)
        found = figures_in(own)
        if found and "figures" in cls.model_fields:
            own["figures"] = [FigureOut(of=name, **vars(f)) for name, f in found]
        return own


class FigureOut(Result):
    """A figure in a sentence: `of` which field (of several sentences with its place: `causes/0`), `at` which
    sign of it, how it is `said`, what it is worth, and whether it is the least or the most allowed."""

    of: str
    at: int
    said: str
    value: float
    unit: str
    bound: Bound = ""


class Told(Result):
    """An answer in sentences, with every figure in them as data beside; without figures it says none."""

    figures: Annotated[list[FigureOut], Field(exclude_if=lambda found: not found)] = []

    @classmethod
    def __get_pydantic_json_schema__(
        cls, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        json_schema = handler(schema)
        body = handler.resolve_ref_schema(json_schema)
        body["required"] = [name for name in body.get("required", ()) if name != "figures"]
        return json_schema


_WORDS = {
    "missing": "is missing",
    "extra_forbidden": "is not a field here; check the spelling or leave it out",
    "json_invalid": "is not valid JSON",
    "finite_number": "must be a number, not infinite or NaN",
    "float_type": "must be a number",
    "int_type": "must be a whole number",
    "string_type": "must be text",
    "bool_type": "must be true or false",
    "list_type": "must be a list",
    "model_type": "must be an object",
    "dict_type": "must be an object",
}


def pointer(loc: tuple[int | str, ...]) -> str:
    """JSON Pointer (RFC 6901) of a place in the input.

    >>> pointer(("cores", 2, "od/mm"))
    '/cores/2/od~1mm'
    """
    return "".join("/" + str(p).replace("~", "~0").replace("/", "~1") for p in loc)


def input_error(fault: ValidationError) -> InputError:
    """The faults pydantic found, as fields and words."""
    errors: dict[tuple[str, str], FieldError] = {}
    for e in fault.errors(include_url=False, include_input=False):
        ctx = e.get("ctx", {})
        words = _WORDS.get(e["type"])
        match e["type"]:
            case "greater_than" | "greater_than_equal" | "less_than" | "less_than_equal":
                rel = e["type"].replace("greater_than", "more than").replace("less_than", "less than")
                rel = {"more than_equal": "at least", "less than_equal": "at most"}.get(rel, rel)
                bound = next(iter(ctx.values()))
                words = (
                    f"must be {rel} {bound:g}"
                    if isinstance(bound, (int, float))
                    else f"must be {rel} {bound}"
                )
            case "too_long" | "too_short" | "string_too_long" | "string_too_short":
                words = e["msg"][0].lower() + e["msg"][1:]
            case "literal_error" | "enum":
                words = f"must be one of {ctx.get('expected')}"
            case "value_error":
                words = str(ctx.get("error", e["msg"]))
        path = pointer(tuple(p for p in e["loc"] if not _is_branch(p)))
        message = words or e["msg"][0].lower() + e["msg"][1:]
        errors[(path, message)] = FieldError(path, message)
    return InputError(*errors.values())


def _is_branch(part: int | str) -> bool:
    """Pydantic names the branch of a union it tried; that is no field of the input."""
    return isinstance(part, str) and (
        part in {"float", "int", "str", "bool"} or "[" in part or "-" in part[:1]
    )


def parse(model: type[T], data: bytes | str | dict[str, Any]) -> T:
    """`data` as `model`. Raises InputError with every fault found."""
    try:
        if isinstance(data, dict):
            return model.model_validate(data, strict=False)
        return model.model_validate_json(data)
    except ValidationError as fault:
        raise input_error(fault) from None
