"""Steps that are done and confirmed together, and what the hand is told once for all of them."""

from tinknot.core.layers.contract import Batch

SHEATHS = Batch("sheaths", "Take both sheaths off")
SHEATHS_ROUGHENED = Batch("sheaths", "Take both sheaths off and roughen them")
ENDS = Batch("ends", "Cut both ends square")
STRIP_WIRES = Batch("strip-wires", "Strip the wire on both sides")
WHOLE = Batch(
    "thread-whole",
    "Thread what goes over the whole cable",
    "In this order, over clean cable. None of them can be put on later.",
)
PARK = Batch("park", "Thread the cores", "None of them can be put on later.")
SURFACE_CORES = Batch("surface-cores", "Wipe the cores clean")
CLEAN = Batch("clean", "Wipe the cable clean")
HOT = "Look while it is hot: then it can still be heated again. Leave it alone until it is cool."
INSPECT_CORES = Batch("inspect-cores", "Look at every core, let them cool", HOT)
LOOK_CORES = Batch("look-cores", "Look at every core")
SURFACE_SHEATH = Batch("surface-sheath", "Roughen both sheaths")
WIPE_SHEATH = Batch("wipe-sheath", "Wipe both sheaths")
SURFACE_SLEEVED = Batch("surface-sleeved", "Roughen all that will lie in resin")
SURFACE_JACKET = Batch("surface-jacket", "Roughen the jacket on both sides")
CRUTCH = Batch("crutch", "Fill both crutches")
FOLD = Batch("fold", "Bend the armour back")
CRIMPS = Batch("crimps", "Crimp the wires, each for itself")
SQUARE = "Square, one core at a time."
LEAD_EDGES = Batch("lead-edges", "Wind mastic from the inner sheath on to the lead")
SPRINGS = Batch("springs", "Cover the springs")
WRAPS = {
    "mica": Batch("wrap-mica", "Wind mica on every core"),
    "mastic": Batch("wrap-mastic", "Fill the steps with mastic"),
}  # by the kind of tape


def cores(end: str, where: str = "") -> Batch:
    """The cores of an end cut to their lengths; `where`, in words, is the end where it is not said."""
    return Batch(f"cores-{end}", f"Cut the cores {where or f'on {end}'}", SQUARE)


def lead(end: str) -> Batch:
    """Lead and inner sheath of an end cut."""
    return Batch(f"lead-{end}", f"Cut lead and inner sheath on {end}")


def strip(end: str) -> Batch:
    """The cores of an end stripped."""
    return Batch(f"strip-{end}", f"Strip the cores on {end}")


def armour(end: str) -> Batch:
    """Armour and bedding of an end cut."""
    return Batch(f"armour-{end}", f"Cut armour and bedding on {end}")


def look(layer: str, title: str) -> Batch:
    """What was just shrunk looked at while it is hot, then left alone."""
    return Batch(f"look-{layer}", f"Look at the {title}, let it cool", HOT)


def join(words: str) -> Batch:
    """Every core joined, `words` as a title."""
    return Batch("join", words)


TOGETHER = (
    "All in turns: the middle of each first, then one end of each, then the other. Keep every gun moving,"
    " shield the sheath."
)
ONE_BY_ONE = "One after the other."  # two schools


def seal_cores(words: str, text: str = "") -> Batch:
    """Every core insulated again, `words` as a title."""
    return Batch("seal-cores", words, text)
