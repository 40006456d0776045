"""The description of the HTTP interface, from the same models that read and write it."""

from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import models_json_schema

from tinknot.web.http import ENDPOINTS, MOST_ID, MOST_KEY, Problem


def openapi() -> dict[str, Any]:
    """The OpenAPI 3.1 description of all endpoints."""
    models: dict[type[BaseModel], None] = {Problem: None}
    for e in ENDPOINTS:
        models |= dict.fromkeys(m for m in (e.body, e.out) if m)
    inputs = {e.body for e in ENDPOINTS if e.body}
    wanted = [(m, "validation" if m in inputs else "serialization") for m in models]
    refs, definitions = models_json_schema(wanted, ref_template="#/components/schemas/{model}")  # type: ignore[arg-type]
    ref = {m: s for (m, _), s in refs.items()}
    paths: dict[str, Any] = {}
    for e in ENDPOINTS:
        path = "/api/v1" + e.rule.replace("<int:", "<").replace("<path:", "<").replace("<", "{").replace(
            ">", "}"
        )
        parameters: list[dict[str, Any]] = []
        for part in e.rule.split("<")[1:]:
            name = part.split(">")[0]
            kind = (
                {"type": "integer", "minimum": 0, "maximum": MOST_ID}
                if name.startswith("int:")
                else {"type": "string", "minLength": 1}
            )
            parameters.append({"name": name.split(":")[-1], "in": "path", "required": True, "schema": kind})
        if e.query:
            schema = e.query.model_json_schema()
            parameters += [
                {"name": n, "in": "query", "required": n in schema.get("required", []), "schema": s}
                for n, s in schema["properties"].items()
            ]
        if e.guarded:
            parameters.append(
                {
                    "name": "If-Match",
                    "in": "header",
                    "required": True,
                    "schema": {"type": "string", "pattern": r'^"\d+"$'},
                }
            )
        if e.keyed:
            parameters.append(
                {
                    "name": "Idempotency-Key",
                    "in": "header",
                    "required": False,
                    "schema": {
                        "type": "string",
                        "minLength": 1,
                        "maxLength": MOST_KEY,
                        "pattern": "^[ -~]*$",
                    },
                }
            )
        fault = {"description": "problem", "content": {"application/problem+json": {"schema": ref[Problem]}}}
        content = (
            {"content": {e.media: {"schema": ref[e.out]}}}
            if e.out
            else (
                {"content": {e.media: {"schema": {"type": "string"}}}}
                if e.media != "application/json"
                else {}
            )
        )
        done = str(e.status if e.out or e.media != "application/json" else 204)
        operation: dict[str, Any] = {
            "operationId": e.name,
            "summary": e.summary,
            "tags": [e.tag],
            "parameters": parameters,
            "responses": {done: {"description": "done", **content}, "default": fault},
        }
        if e.body:
            operation["requestBody"] = {
                "required": True,
                "content": {"application/json": {"schema": ref[e.body]}},
            }
        if e.raw:
            operation["requestBody"] = {
                "required": True,
                "content": {e.raw: {"schema": {"type": "string", "format": "binary"}}},
            }
        if e.role is None:
            operation["security"] = []
        paths.setdefault(path, {})[e.method.lower()] = operation
    return {
        "openapi": "3.1.0",
        "info": {
            "title": "Tin Knot",
            "version": "1",
            "description": "Cable joints: measured, chosen, built, recorded.",
        },
        "paths": paths,
        "components": {
            "schemas": _plain_pairs(definitions.get("$defs", {})),
            "securitySchemes": {"session": {"type": "apiKey", "in": "cookie", "name": "session"}},
        },
        "security": [{"session": []}],
    }


def _plain_pairs(schema: Any) -> Any:
    """A pair of equal kinds as an array of two: the same to a validator, simpler for generated types."""
    if isinstance(schema, dict):
        found = {k: _plain_pairs(v) for k, v in schema.items()}
        parts = found.get("prefixItems")
        if parts and all(p == parts[0] for p in parts):
            del found["prefixItems"]
            found["items"] = parts[0]
        return found
    return [_plain_pairs(v) for v in schema] if isinstance(schema, list) else schema
