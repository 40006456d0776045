"""A thin layer over Flask: pydantic in and out, problem details (RFC 9457), OpenAPI 3.1 from the same
models."""

import json
from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass
from math import ceil
from typing import Any

from flask import Blueprint, Flask, Response, current_app, request
from flask_login import current_user
from limits import parse as parse_limit
from limits.strategies import FixedWindowRateLimiter
from pydantic import BaseModel
from werkzeug.exceptions import HTTPException, SecurityError, UnsupportedMediaType
from werkzeug.http import dump_options_header

from tinknot.core.errors import (
    Conflict,
    InputError,
    NotAllowed,
    NotFound,
    OtherPerson,
    TinKnotError,
    TooMuchWork,
    Unreadable,
)
from tinknot.core.model import FigureOut, Result, Strict, Told, parse
from tinknot.services import repeats
from tinknot.services.heavy import TooMany, turn
from tinknot.store.faults import Busy, DiskFull, ReadOnly, StoreFault, fault_of

MOST_ID = 2**31 - 1
MOST_KEY = 200
RANK = {"viewer": 0, "jointer": 1, "verifier": 2, "admin": 3}


@dataclass(frozen=True)
class Endpoint:
    """One operation: what it takes, gives, and who may call it (`role` None: anybody)."""

    method: str
    rule: str
    name: str
    summary: str
    tag: str
    body: type[BaseModel] | None
    out: type[BaseModel] | None
    query: type[Strict] | None
    role: str | None
    status: int
    guarded: bool
    media: str
    limit: str | None = None
    raw: str | None = None
    keyed: bool = False


class Fault(Told):
    """A field at fault, by its JSON Pointer."""

    path: str
    message: str


class Problem(Result):
    """Problem details (RFC 9457) with the fields at fault."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[Fault]


STATUS: dict[type[TinKnotError], tuple[int, str]] = {
    InputError: (422, "bad-input"),
    NotAllowed: (403, "not-allowed"),
    NotFound: (404, "not-found"),
    OtherPerson: (409, "other-person"),
    Conflict: (409, "conflict"),
    TooMany: (429, "too-many"),
    TooMuchWork: (422, "too-much-work"),
    Unreadable: (422, "unreadable"),
    DiskFull: (507, "disk-full"),
    ReadOnly: (503, "read-only"),
    Busy: (503, "busy"),
    StoreFault: (503, "store"),
}  # the first that fits


def problem(status: int, kind: str, title: str, detail: str, errors: list[Fault] | None = None) -> Response:
    """A problem answer."""
    body = Problem(type=f"tinknot:{kind}", title=title, status=status, detail=detail, errors=errors or [])
    return Response(body.model_dump_json(), status, mimetype="application/problem+json")


def problem_of(fault: TinKnotError) -> Response:
    """A lower error as an answer."""
    status, kind = next((s for t, s in STATUS.items() if isinstance(fault, t)), (422, "refused"))
    errors = (
        [
            Fault(
                path=e.path,
                message=e.message,
                figures=[FigureOut(of="message", **vars(f)) for f in e.figures],
            )
            for e in fault.errors
        ]
        if isinstance(fault, InputError)
        else []
    )
    detail = "; ".join(e.message for e in errors) if errors else str(fault)
    answer = problem(status, kind, getattr(fault, "title", "Refused"), detail, errors=errors)
    if status == 429:
        answer.headers["Retry-After"] = "3"
    return answer


def too_often(spec: Endpoint) -> Response | None:
    """A problem when one address asks more often than the endpoint's limit allows."""
    limiter: FixedWindowRateLimiter | None = current_app.extensions.get("rate-limiter")
    if (
        limiter is None
        or spec.limit is None
        or limiter.hit(parse_limit(spec.limit), spec.name, request.remote_addr or "")
    ):
        return None
    return waiting(60)


def waiting(seconds: float, why: str = "") -> Response:
    """A problem for who asks too often: how long to wait, or what else to do."""
    minutes = ceil(seconds / 60)
    words = "a minute" if minutes == 1 else f"{minutes} minutes"
    answer = problem(429, "too-often", "Too many tries", why or f"Wait {words} and try again.")
    answer.headers["Retry-After"] = str(ceil(seconds))
    return answer


def need_role(role: str | None) -> Response | None:
    """A problem when the person may not, else None."""
    if role is None:
        return None
    if not current_user.is_authenticated:
        return problem(
            401,
            "sign-in",
            "Sign in first",
            "You are not signed in, or the session has ended. Nothing you typed is lost.",
        )
    if current_user.person.must_change:
        return problem(
            403,
            "change-password",
            "Choose a new password first",
            "This password was given by an admin; choose your own.",
        )
    if RANK[current_user.person.role] < RANK[role]:
        return problem(
            403,
            "not-allowed",
            "Not by this role",
            f"This needs the role {role}; you are signed in as {current_user.person.role}.",
        )
    return None


def _given(spec: Endpoint) -> dict[str, Any]:
    """What a request brings of what is asked for: `query`, `body`, `data`, `version`."""
    given: dict[str, Any] = {}
    if spec.query is not None:
        given["query"] = _query(spec.query)
    if spec.body is not None:
        if request.mimetype != "application/json":
            raise UnsupportedMediaType("Send application/json.")
        given["body"] = parse(spec.body, request.get_data())
    if spec.raw is not None:
        if request.mimetype.split("/")[0] != spec.raw.split("/")[0]:
            raise UnsupportedMediaType(f"Send {spec.raw}.")
        given["data"] = request.get_data()
    if spec.guarded:
        given["version"] = _version()
    return given


def endpoint(
    bp: Blueprint,
    method: str,
    rule: str,
    *,
    body: type[BaseModel] | None = None,
    out: type[BaseModel] | None = None,
    query: type[Strict] | None = None,
    role: str | None = "viewer",
    status: int = 200,
    guarded: bool = False,
    media: str = "application/json",
    limit: str | None = None,
    raw: str | None = None,
    keyed: bool = False,
    slow: bool = False,
    heavy: bool = False,
) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Register a view. It is called with path arguments and, where declared, `body`, `query`, `version`.

    `raw` is the media type of a body taken as bytes, `data`; its kind (what stands before the slash) is
    checked. `guarded` asks for If-Match with the version in it; out with a `version` field sets ETag. The
    answer to a `keyed` POST is kept under the Idempotency-Key sent with it: what makes something is, what
    looks, what holds a secret and what has an id of its own is not. `slow`: it works long before it writes,
    and doing it twice changes nothing. `heavy`: it may take much work, which is bounded, and few at once."""

    def register(view: Callable[..., Any]) -> Callable[..., Any]:
        lines = (view.__doc__ or view.__name__).strip().splitlines()
        spec = Endpoint(
            method,
            rule,
            f"{bp.name}_{view.__name__}",
            lines[0],
            tag=bp.name,
            body=body,
            out=out,
            query=query,
            role=role,
            status=status,
            guarded=guarded,
            media=media,
            limit=limit,
            raw=raw,
            keyed=keyed,
        )

        def handler(**path: Any) -> Response:
            refused = too_often(spec) or need_role(role)
            if refused is not None:
                return refused
            given, asked = dict(path) | _given(spec), _repeatable(spec)

            def answer() -> Response:
                with turn(_who()) if heavy else nullcontext():
                    return _answer(view(**given), spec)

            if asked is None:
                return answer()

            def make() -> repeats.Answered:
                made = answer()
                return repeats.Answered(made.status_code, made.get_data(as_text=True))

            found = (repeats.once_unlocked if guarded or slow else repeats.once)(asked, make)
            again = Response(found.body, found.status, mimetype="application/json")
            return _headed(again, json.loads(found.body).get("version"))

        bounded = rule.replace("<int:", f"<int(max={MOST_ID}):")
        bp.add_url_rule(bounded, spec.name, handler, methods=[method])
        ENDPOINTS.append(spec)
        return view

    return register


ENDPOINTS: list[Endpoint] = []  # filled when the blueprints are imported, read for the description


def _who() -> str:
    """Whose work is bounded: the person's, or an address's where nobody is signed in."""
    return f"#{person().id}" if current_user.is_authenticated else f"@{request.remote_addr}"


def _query(model: type[Strict]) -> Strict:
    raw: dict[str, Any] = {}
    for name in request.args:
        values = request.args.getlist(name)
        text = values[-1]
        number = model.model_fields.get(name) and model.model_fields[name].annotation in (int, float)
        try:
            raw[name] = json.loads(text) if number else text
        except ValueError:
            raw[name] = text
    return parse(model, json.dumps(raw))


def _version() -> int:
    tag = request.headers.get("If-Match", "").strip().removeprefix("W/").strip('"')
    if not tag.isdecimal() or len(tag) > 12:
        raise InputError.at(
            "/If-Match", "is missing: send the version you looked at, so that nobody's work is overwritten"
        )
    return int(tag)


def _answer(value: Any, spec: Endpoint) -> Response:
    if isinstance(value, Response):
        return value
    if value is None:
        return Response(status=204)
    response = Response(value.model_dump_json(by_alias=True), spec.status, mimetype="application/json")
    return _headed(response, getattr(value, "version", None))


def _headed(response: Response, version: Any) -> Response:
    """The headers of every JSON answer."""
    if isinstance(version, int):
        response.headers["ETag"] = f'"{version}"'
    response.headers["Cache-Control"] = "no-store"
    return response


def _repeatable(spec: Endpoint) -> repeats.Asked | None:
    """A request whose answer is kept: one with a key, of an endpoint that takes one, by somebody signed
    in. Raises InputError for a key that cannot be one."""
    key = request.headers.get("Idempotency-Key")
    if key is None or not spec.keyed or not current_user.is_authenticated:
        return None
    if not (0 < len(key) <= MOST_KEY and key.isascii() and key.isprintable()):
        raise InputError.at("/Idempotency-Key", f"must be 1 to {MOST_KEY} printable ASCII characters")
    return repeats.Asked(person().id, f"{spec.method} {request.full_path}", key, request.get_data())


def init_errors(app: Flask) -> None:
    """Every error as a problem; no traceback ever leaves."""

    @app.errorhandler(TinKnotError)
    def _(fault: TinKnotError) -> Response:
        return problem_of(fault)

    @app.errorhandler(SecurityError)
    def _(_fault: SecurityError) -> Response:
        words = (
            "This server does not answer to that name. Use its address, or have an admin add the name with"
            " --name."
        )
        return problem(400, "host", "Not a name of this server", words)

    @app.errorhandler(HTTPException)
    def _(fault: HTTPException) -> Response:
        words = {
            404: "There is nothing at this address.",
            413: "That is too much at once.",
        }
        answer = problem(
            fault.code or 500, "http", fault.name, words.get(fault.code or 0, fault.description or "")
        )
        for name, value in fault.get_headers():
            if name in ("Allow", "Retry-After"):
                answer.headers[name] = value
        return answer

    @app.errorhandler(Exception)
    def _(fault: Exception) -> Response:
        if (known := fault_of(fault)) is not None:
            app.logger.error("%s %s: %s", request.method, request.path, known)
            return problem_of(known)
        app.logger.exception("unexpected: %s %s", request.method, request.path, exc_info=fault)
        return problem(
            500,
            "fault",
            "Something went wrong here",
            "It is noted in the log. Nothing was half-written; try again.",
        )


def disposition(kind: str, name: str) -> dict[str, str]:
    """The header that names a file: `inline` or `attachment`. Any name will do: signs that a header cannot
    carry are encoded (RFC 8187), what cannot be seen is left out."""
    seen = "".join(c for c in name if c.isprintable() and c not in '/\\"')
    return {"Content-Disposition": dump_options_header(kind, {"filename": seen})}


def person() -> Any:
    """The person signed in."""
    return current_user.person
