"""A joint file of any family: which one it is stands in the file, and the registry says how it is read."""

import json
from typing import Any

from pydantic import GetJsonSchemaHandler, RootModel, SerializeAsAny, model_validator
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from tinknot.core.errors import InputError
from tinknot.core.families.registry import FAMILIES, family
from tinknot.core.joint.head import JointHead
from tinknot.core.model import parse


def file_of(data: bytes | str | dict[str, Any]) -> JointHead:
    """A joint file. Raises InputError with every fault found, at `/family` where that is missing or
    unknown."""
    try:
        given = data if isinstance(data, dict) else json.loads(data)
    except ValueError:
        return parse(JointHead, data)  # says where it is no JSON
    if not isinstance(given, dict):
        raise InputError.at("", "must be an object")
    name = given.get("family")
    if not isinstance(name, str):
        raise InputError.at("/family", "is missing" if name is None else "must be text")
    return parse(family(name).file, data)


class AnyJoint(RootModel[SerializeAsAny[JointHead]]):
    """The file's `family` says which it is."""

    @model_validator(mode="before")
    @classmethod
    def _by_family(cls, data: Any) -> Any:
        return data if isinstance(data, JointHead) else file_of(json.dumps(data))

    @classmethod
    def __get_pydantic_json_schema__(
        cls, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        models = dict.fromkeys(f.file for f in FAMILIES.values())
        return {"oneOf": [handler(m.__pydantic_core_schema__) for m in models]}
