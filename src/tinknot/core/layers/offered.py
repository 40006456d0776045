"""The figures that are offered: they may be left out, and prove nothing. Every other figure of every step is
asked for: its step waits for it, and so does the verdict."""

OFFERED: dict[str, str] = {
    "distance": "a cut is looked at and its core measured again by the plan; the figure tells what was cut",
    "back": "whether the grommet's lip turned outward is looked at; the figure tells how far it went",
    "strip": "whether the conductor sits is seen at its connector",
    "bare": "the ring's place over the screen is looked at before it is heated",
    "roughened": "what was roughened is seen beside the seal's edge",
    "area": "what was roughened is seen beside the seal's edge",
    "cut": "the tape's length is laid on the cable and seen to go round",
    "shows": "what shows of the tape is looked at after it has shrunk",
    "turns": "the lay is looked at before the last core is joined",
    "surface": "it chooses the cloth, wet or dry",
    "temperature": "it ends a wait early, drives the cure clock, or brings a reading to 20 °C",
    "map": "only what rings elsewhere is typed; each core's continuity is asked for after it",
    "uohm": "every connector is looked at and its core's continuity asked for; the site may ask for more",
}  # by the gate's id, of numbered ones by what stands before the dash: why it may be left out


def why_offered(gate_id: str) -> str:
    """Why a figure may be left out; empty for one that may not."""
    return OFFERED.get(gate_id) or OFFERED.get(gate_id.split("-")[0], "")
