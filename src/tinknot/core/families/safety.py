"""The usual cautions, in plain words; local codes and a licensed person come first."""

SAFETY = (
    "Not a substitute for local codes or a licensed person.",
    (
        "Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover."
        " Discharge before touching. Cover what is live beside it; never open the circuit of a current"
        " transformer."
    ),
    "Discharge after every DC test.",
    "Green-yellow is never re-marked as a live conductor.",
)
HOT = (
    "Hot air: permit where one is needed, shield what is near, gloves; the gun warm first, cooled on cold air"
    " before it is laid down, and a fire watch afterwards. A flame only with its own permit; a lighter marks"
    " and burns sleeves and is not accepted. Solvent away from heat, ventilate."
)
CAST = (
    "Resin: gloves and eye protection, ventilate, wash skin at once. Some resins need trained people by law."
)
HAZARDOUS = (
    "Hazardous area: gas test before and during the work; not gas-free means no heat source of any kind."
)
