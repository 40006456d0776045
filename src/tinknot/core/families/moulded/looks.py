"""How moulded parts and what makes them tight are drawn."""

from tinknot.core.drawing.model import Appearance

LOOKS = {
    "fitting": Appearance(material="metal", said="fitting", role="cable"),
    "leg": Appearance(material="sheath", said="leg", role="cable"),
    "moulded": Appearance(material="shell", form="ring", said="moulded part", see_through=0.55, sealed=True),
    "as-supplied": Appearance(material="shell", form="veil", said="as supplied", see_through=0.12),
    "area": Appearance(material="overlay", form="veil", said="made ready", see_through=0.45),
    "hot-melt": Appearance(material="tape", said="hot-melt tape"),
    "paste": Appearance(material="resin", said="adhesive"),
}
