"""What is in stock when a joint is planned, and so the kinds of part there are: a field here is a kind."""

from typing import Annotated, get_args

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Strict
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.connector import StockConnector
from tinknot.core.parts.donor import StockDonor
from tinknot.core.parts.foil import StockFoil
from tinknot.core.parts.hot_melt import StockHotMelt
from tinknot.core.parts.kit import StockKit
from tinknot.core.parts.marker import StockMarker
from tinknot.core.parts.mesh import StockMesh
from tinknot.core.parts.nozzle import StockNozzle
from tinknot.core.parts.paste import StockPaste
from tinknot.core.parts.resin import StockResin
from tinknot.core.parts.ring import StockRing
from tinknot.core.parts.shell import StockShell
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.parts.splice import StockSplice
from tinknot.core.parts.stocked import Counted, Stocked
from tinknot.core.parts.strap import StockStrap
from tinknot.core.parts.tape import StockTape

MOST_PARTS = 20_000  # of one kind
_Many = Field(max_length=MOST_PARTS)


class StockIn(Strict):
    """What is in stock when the joint is planned."""

    sleeves: Annotated[list[StockSleeve], _Many] = []
    connectors: Annotated[list[StockConnector], _Many] = []
    tapes: Annotated[list[StockTape], _Many] = []
    shells: Annotated[list[StockShell], _Many] = []
    resins: Annotated[list[StockResin], _Many] = []
    straps: Annotated[list[StockStrap], _Many] = []
    clamps: Annotated[list[StockClamp], _Many] = []
    meshes: Annotated[list[StockMesh], _Many] = []
    kits: Annotated[list[StockKit], _Many] = []
    solder_sleeves: Annotated[list[StockSolderSleeve], _Many] = []
    rings: Annotated[list[StockRing], _Many] = []
    splices: Annotated[list[StockSplice], _Many] = []
    donors: Annotated[list[StockDonor], _Many] = []
    foils: Annotated[list[StockFoil], _Many] = []
    markers: Annotated[list[StockMarker], _Many] = []
    boots: Annotated[list[StockBoot], _Many] = []
    hot_melts: Annotated[list[StockHotMelt], _Many] = []
    pastes: Annotated[list[StockPaste], _Many] = []
    nozzles: Annotated[list[StockNozzle], _Many] = []

    def counted(self) -> list[Counted]:
        """What is counted in pieces or rolls: everything but sleeves."""
        return [p for kind in type(self).model_fields if kind != "sleeves" for p in getattr(self, kind)]

    def check(self) -> None:
        """Ids stand once in each list, and figures agree. Raises InputError."""
        for kind in type(self).model_fields:
            seen: set[str] = set()
            for i, part in enumerate(getattr(self, kind)):
                if part.id in seen:
                    raise InputError.at(
                        f"/stock/{kind}/{i}/id", f"stands twice: {part.id}; ids must be unique"
                    )
                seen.add(part.id)
                part.check(f"/stock/{kind}/{i}")


_MODELS: dict[str, type[Stocked]] = {
    name: get_args(listed.annotation)[0] for name, listed in StockIn.model_fields.items()
}
KINDS: dict[str, type[Stocked]] = {model.part.name: model for model in _MODELS.values()}
LIST_OF: dict[str, str] = {model.part.name: name for name, model in _MODELS.items()}  # in a joint file
