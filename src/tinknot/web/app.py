"""The application factory."""

import mimetypes
import secrets
from collections.abc import Callable, Iterable
from os.path import isfile  # unlike Path.is_file it answers for any name, however long
from pathlib import Path
from threading import Lock
from typing import Any

from flask import Flask, Response, request, send_from_directory, session
from flask_login import LoginManager, current_user
from limits.storage import MemoryStorage
from limits.strategies import FixedWindowRateLimiter
from werkzeug.middleware.proxy_fix import ProxyFix

from tinknot.services import accounts, opening
from tinknot.store.database import db
from tinknot.web.api import BLUEPRINTS
from tinknot.web.http import init_errors, problem
from tinknot.web.openapi import openapi
from tinknot.web.signed_in import SessionUser

STATIC = Path(__file__).parent / "static" / "app"
LOOPBACK = ("localhost", "127.0.0.1")
CSP = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self'; script-src 'self'; object-src 'none'; "
    "base-uri 'none'; form-action 'self'; frame-ancestors 'none'; worker-src 'self'; manifest-src 'self'"
)


class Answering:
    """How many requests are being answered, the one that asks among them. A browser that goes away ends
    nothing: what it sent is written all the same, and who puts other data under the server waits for it."""

    def __init__(self, inner: Callable[..., Iterable[bytes]]) -> None:
        self._inner, self._lock, self.now = inner, Lock(), 0

    def _count(self, more: int) -> None:
        with self._lock:
            self.now += more

    def __call__(self, environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        self._count(1)
        try:
            return self._inner(environ, start)
        finally:
            self._count(-1)


def create_app(config: dict[str, Any]) -> Flask:
    """An application on the database `DATABASE`. `SECRET_KEY` signs sessions; `RATE_LIMIT` False leaves
    sign-in unlimited. It answers to the host names `TRUSTED_HOSTS` only, those of this machine by default,
    so that no other site's name can be pointed at it. With `SETUP_CODE` the first admin must know that
    word."""
    app = Flask(__name__, static_folder=None)
    app.config.update(
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_NAME="tinknot",
        PERMANENT_SESSION_LIFETIME=accounts.SIGNED_IN_FOR,
        MAX_CONTENT_LENGTH=8 * 1024 * 1024,
        RATE_LIMIT=True,
        TRUSTED_HOSTS=list(LOOPBACK),
        SETUP_CODE="",
    )
    app.config.update(config)
    app.json.sort_keys = False  # type: ignore[attr-defined]  # set on the default provider
    if app.config.get("TRUSTED_PROXIES"):
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=1, x_proto=1)  # type: ignore[method-assign]
    opening.open_site(app.config["DATABASE"])
    _know_who(app)
    app.before_request(_guard)
    app.after_request(_headers)
    if app.config["RATE_LIMIT"]:
        app.extensions["rate-limiter"] = FixedWindowRateLimiter(MemoryStorage())
    for blueprint in BLUEPRINTS:
        app.register_blueprint(blueprint, url_prefix="/api/v1")
    init_errors(app)

    _give_pages(app)
    answering = Answering(app.wsgi_app)
    app.wsgi_app = answering  # type: ignore[method-assign, assignment]

    @app.get("/healthz")
    def _health() -> dict[str, str | int]:
        return {"status": "ok", "answering": answering.now}

    return app


def _know_who(app: Flask) -> None:
    """Who is signed in, by the token in the session."""
    login = LoginManager(app)

    @login.user_loader  # type: ignore[untyped-decorator]  # Flask-Login ships no types
    def _load(token: str) -> SessionUser | None:
        found = accounts.entered(token)
        return SessionUser(found, token) if found else None


def _guard() -> Response | None:
    """What changes something comes from a page of this site."""
    db.connect(reuse_if_open=True)
    if request.method in ("GET", "HEAD", "OPTIONS") or not request.path.startswith("/api/"):
        return None
    if current_user.is_authenticated:
        sent = request.headers.get("X-CSRF-Token", "")
        if not secrets.compare_digest(sent.encode(), session.get("csrf", "").encode()):
            return problem(
                403,
                "csrf",
                "This page is out of date",
                "Reload the page and send it again; nothing you typed is lost.",
            )
    return None


def _headers(response: Response) -> Response:
    """What every answer carries."""
    response.headers.setdefault("Content-Security-Policy", CSP)
    if request.path.startswith("/api/"):  # answers and papers are somebody's; pictures say so themselves
        response.headers.setdefault("Cache-Control", "no-store")
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "same-origin"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    return response


def _give_pages(app: Flask) -> None:
    """The description of the API, and the pages."""

    @app.get("/api/openapi.json")
    def _description() -> dict[str, Any]:
        return openapi()

    @app.get("/")
    @app.get("/<path:path>")
    def _page(path: str = "index.html") -> Response:
        if path.startswith("api/"):
            return problem(404, "not-found", "Not found", "There is no such address in the API.")
        return _static(path if isfile(STATIC / path) else "index.html")


def _static(path: str) -> Response:
    """A built file, the precompressed one when the browser takes it."""
    zipped = "gzip" in request.headers.get("Accept-Encoding", "") and (STATIC / f"{path}.gz").is_file()
    response = send_from_directory(STATIC, f"{path}.gz" if zipped else path, conditional=not zipped)
    if zipped:
        response.headers["Content-Encoding"] = "gzip"
        response.headers["Content-Type"] = mimetypes.guess_type(path)[0] or "application/octet-stream"
    response.headers["Vary"] = "Accept-Encoding"
    response.headers["Cache-Control"] = (
        "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
    )
    return response
