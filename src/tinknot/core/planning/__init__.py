"""From a joint file to its plan: solve, compile, the other ways, what a revision changes; the plan's
model."""
