"""Templates of a planned joint at full size: the cuts of an end, or the drawing of the whole."""

from tinknot.core.drawing.model import Section
from tinknot.core.errors import NotFound
from tinknot.core.plan.plan import Plan
from tinknot.exchange import full_size, template
from tinknot.services import folds, joints, planning

WHOLE = "whole"  # in place of an end: the drawing of the joint


def _planned(ref: str) -> tuple[int, Plan]:
    revision = planning.latest(joints.row_of(ref))
    if revision is None:
        raise NotFound(f"{ref} is not planned yet, so there is no template.")
    return revision.number, folds.read_plan(revision.plan)


def _template_of(ref: str, end: str) -> tuple[int, Plan]:
    number, plan = _planned(ref)
    if not any(c.end == end for c in plan.cuts):
        raise NotFound(f"{ref} has no cuts on end {end}.")
    return number, plan


def _drawing_of(ref: str) -> tuple[int, Section]:
    number, plan = _planned(ref)
    if plan.section is None:
        raise NotFound(f"{ref} has no drawing: nothing fits yet.")
    return number, plan.section


def template_pdf(ref: str, end: str) -> bytes:
    """The 1:1 cut template of an end, or the drawing of the whole joint at full size. Raises NotFound before
    the first plan, or where nothing is cut."""
    if end == WHOLE:
        return full_size.full_size_pdf(ref, *_drawing_of(ref))
    return template.template_pdf(ref, *_template_of(ref, end), end)


def template_svg(ref: str, end: str) -> str:
    """The same as a drawing in millimetres."""
    if end == WHOLE:
        return full_size.full_size_svg(ref, *_drawing_of(ref))
    return template.template_svg(ref, *_template_of(ref, end), end)
