"""The pairing page: how a tablet comes to trust this site, with a QR code. Plain HTTP, and nothing else on
it."""

import segno
from flask import Flask, Response

PAGE = """<!doctype html>
<html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Tin Knot: pair a tablet</title><link rel="stylesheet" href="/pair.css"></head>
<body><main><h1>Pair this tablet</h1>
<ol>
<li>Take this site's certificate onto the tablet:
<a class="do" href="/tinknot.crt">Get the certificate</a></li>
<li>Trust it. Android: Settings, Security, Install a certificate, CA certificate. iPhone and iPad: open it,
install the profile in Settings, then switch it on under General, About, Certificate Trust Settings. A laptop:
into the system's trusted root authorities.</li>
<li>Open <a class="do" href="{address}">{address}</a>, or scan this from the tablet:</li>
</ol>
<img src="/pair.svg" alt="QR code of {address}">
<p>Its SHA-256 fingerprint is printed where the server was started. If the two differ, stop: it is not this
site.</p>
<p class="print">{fingerprint}</p></main></body></html>"""
STYLE = """body{margin:0;background:#e2e6e5;color:#1d2529;
font:20px/1.4 "Barlow Semi Condensed",system-ui,sans-serif}
main{max-width:40rem;margin:auto;padding:1.5rem}h1{font-size:2rem}
li{margin:.8rem 0}img{width:14rem;background:#fff}
.do{display:inline-block;padding:.7rem 1rem;background:#24557a;color:#fff;font-weight:600;
text-decoration:none}
.print{font-size:.9rem;word-break:break-all}"""


def create_pairing(authority: bytes, address: str, fingerprint: str) -> Flask:
    """A small application with the pairing page and the authority's certificate."""
    app = Flask(__name__, static_folder=None)

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = "default-src 'self'"
        response.headers["X-Content-Type-Options"] = "nosniff"
        return response

    @app.get("/")
    def _page() -> str:
        return PAGE.format(address=address, fingerprint=fingerprint)

    @app.get("/pair.css")
    def _style() -> Response:
        return Response(STYLE, mimetype="text/css")

    @app.get("/pair.svg")
    def _code() -> Response:
        return Response(
            segno.make(address, error="m")
            .svg_inline(scale=8, border=3)
            .replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"', 1),
            mimetype="image/svg+xml",
        )

    @app.get("/tinknot.crt")
    def _certificate() -> Response:
        return Response(
            authority,
            mimetype="application/x-x509-ca-cert",
            headers={"Content-Disposition": "attachment; filename=tinknot.crt"},
        )

    return app
