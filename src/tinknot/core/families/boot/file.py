"""The joint file of a moulded part."""

from typing import Literal

from tinknot.core.families.moulded.job import MouldedJob


class BootFile(MouldedJob):
    """A moulded part, and nothing else to be made there."""

    family: Literal["boot"]
