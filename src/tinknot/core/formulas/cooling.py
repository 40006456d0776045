"""How long a shrunk sleeve stays hot."""

from math import log, pi

COPPER_J_PER_CM3_K = 3.45  # heat capacity by volume
POLYMER_J_PER_CM3_K = 2.0  # polyolefin, PVC and rubber lie near it


def cool_min(
    outside_mm: float, copper_mm2: float, *, from_c: float, to_c: float, ambient_c: float, loss_w_m2k: float
) -> float:
    """Minutes until a joint of `outside_mm` with `copper_mm2` of copper in it has cooled in still air.

    Newton cooling of a long cylinder, warm right through, which is the slow side: τ = C/(h·π·D) with
    the heat capacity C of copper and polymer per length, t = τ·ln((T₀ − Tₐ)/(T − Tₐ)). 0 when it is
    cool already, infinite where the air is not colder than `to_c`. A reading of the surface always
    wins. Source: Newton's law of cooling.

    >>> round(cool_min(26.9, 24, from_c=110, to_c=40, ambient_c=10, loss_w_m2k=12), 1)
    23.2
    """
    if to_c <= ambient_c:
        return 0.0 if from_c <= to_c else float("inf")
    if from_c <= to_c:
        return 0.0
    solid_mm2 = max(0.0, pi / 4 * outside_mm**2 - copper_mm2)
    per_m = copper_mm2 * COPPER_J_PER_CM3_K + solid_mm2 * POLYMER_J_PER_CM3_K  # J/(m·K): 1 mm² × 1 m is 1 cm³
    tau_s = per_m / (loss_w_m2k * pi * outside_mm / 1000)
    return tau_s * log((from_c - ambient_c) / (to_c - ambient_c)) / 60
