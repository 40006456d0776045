"""Work at the joint: events in, progress out; the record."""

from typing import Annotated, Literal

from flask import Blueprint, Response
from pydantic import Field

from tinknot.core.model import Name, Result, Strict
from tinknot.core.work.events import EventIn
from tinknot.services import building, photos, records, templates, visits
from tinknot.services.building import Mends, Taken, Work
from tinknot.services.testers import FileReadingOut, readings_of
from tinknot.services.verifying import Verdict
from tinknot.services.visits import EarlierReading
from tinknot.web.http import disposition, endpoint, person

bp = Blueprint("work", __name__)


@endpoint(bp, "GET", "/joints/<ref>/work", out=Work)
def show(ref: str) -> Work:
    """Plan, progress and events."""
    return building.work(ref)


@endpoint(bp, "POST", "/joints/<ref>/events", body=EventIn, out=Taken, role="jointer", status=201)
def take(ref: str, body: EventIn) -> Taken:
    """Accept an event once; a repeat answers as before."""
    return building.take(ref, body, person())


@endpoint(bp, "GET", "/joints/<ref>/faults/<fault>/mends", out=Mends)
def mends(ref: str, fault: str) -> Mends:
    """What may be done about an open fault, and what each way costs."""
    return building.mends(ref, fault)


class Earlier(Result):
    """Readings of earlier visits."""

    items: list[EarlierReading]


@endpoint(bp, "GET", "/joints/<ref>/earlier", out=Earlier)
def earlier(ref: str) -> Earlier:
    """Closing readings of the other heat-trace connections on this line, to compare with."""
    return Earlier(items=visits.earlier(ref))


class TesterFile(Strict):
    """A tester's file as text, and the step it is for."""

    step: Name
    text: Annotated[str, Field(min_length=1, max_length=400_000)]


class TesterReadings(Result):
    """What stands in the file, and what goes where."""

    items: list[FileReadingOut]


@endpoint(bp, "POST", "/joints/<ref>/tester-file", body=TesterFile, out=TesterReadings, role="jointer")
def tester_file(ref: str, body: TesterFile) -> TesterReadings:
    """Lay a tester's readings beside what a step asks for; nothing is stored."""
    return TesterReadings(items=readings_of(ref, body.step, body.text))


@endpoint(bp, "PUT", "/photos/<digest>", role="jointer", raw="image/jpeg")
def keep_photo(digest: str, data: bytes) -> None:
    """Store a picture under the SHA-256 of its bytes; sent again, nothing changes."""
    photos.keep(data, digest)


@endpoint(bp, "GET", "/photos/<digest>", media="image/jpeg")
def photo(digest: str) -> Response:
    """A picture."""
    data, kind = photos.load(digest)
    return Response(data, mimetype=kind, headers={"Cache-Control": "private, max-age=31536000, immutable"})


def _file(body: bytes, mimetype: str, name: str) -> Response:
    return Response(body, mimetype=mimetype, headers=disposition("inline", name))


@endpoint(bp, "GET", "/joints/<ref>/record.json", media="application/octet-stream")
def record_json(ref: str) -> Response:
    """The record, verifiable."""
    return _file(records.record_json(ref), "application/octet-stream", f"{ref}-record.json")


@endpoint(bp, "GET", "/joints/<ref>/record.pdf", media="application/pdf")
def record_pdf(ref: str) -> Response:
    """The record, printable."""
    return _file(records.record_pdf(ref), "application/pdf", f"{ref}-record.pdf")


class CardQuery(Strict):
    """What lengths are told in."""

    unit: Literal["mm", "inch"] = "mm"


@endpoint(bp, "GET", "/joints/<ref>/card.pdf", media="application/pdf", query=CardQuery)
def card(ref: str, query: CardQuery) -> Response:
    """The plan on A6."""
    return _file(records.card_pdf(ref, query.unit), "application/pdf", f"{ref}-card.pdf")


@endpoint(bp, "GET", "/joints/<ref>/template/<end>.pdf", media="application/pdf")
def template(ref: str, end: str) -> Response:
    """The cut template of one end at full size; of the end `whole` the drawing of the joint."""
    return _file(templates.template_pdf(ref, end), "application/pdf", f"{ref}-{end}-template.pdf")


@endpoint(bp, "GET", "/joints/<ref>/template/<end>.svg", media="image/svg+xml")
def template_drawing(ref: str, end: str) -> Response:
    """The same as a drawing in millimetres."""
    return _file(templates.template_svg(ref, end).encode(), "image/svg+xml", f"{ref}-{end}-template.svg")


@endpoint(bp, "GET", "/joints/<ref>/label.pdf", media="application/pdf")
def label(ref: str) -> Response:
    """The label with its QR code."""
    return _file(records.label_pdf(ref), "application/pdf", f"{ref}-label.pdf")


class Printed(Result):
    """What lies in the printer's tray."""

    name: str


@endpoint(bp, "POST", "/joints/<ref>/label", out=Printed, role="jointer", status=201, keyed=True)
def print_label(ref: str) -> Printed:
    """Print the label on the label printer."""
    return Printed(name=records.print_label(ref))


@endpoint(bp, "GET", "/stock/<part_id>/lots/<int:lot_id>/label.pdf", media="application/pdf")
def lot_label(part_id: str, lot_id: int) -> Response:
    """A lot's label with its QR code."""
    return _file(records.lot_label_pdf(part_id, lot_id), "application/pdf", f"{part_id}-{lot_id}-label.pdf")


@endpoint(bp, "GET", "/joints/<ref>/verdict", out=Verdict)
def verify(ref: str) -> Verdict:
    """Whether the stored record is unaltered."""
    return records.verdict(ref)
