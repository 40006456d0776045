"""What readings of continuity contradict: cores that ring at another one's terminal, and numbers of a walk
there and back that no wire can have. The browser says the same without connection (tests/vectors)."""

from collections.abc import Iterator, Mapping

from tinknot.core.plan.steps import GateOut, StepOut


def rung_wrong(step: StepOut, values: Mapping[str, float]) -> list[str]:
    """In words, what does not add up in the readings of a step that tells cores apart, worst first. Empty for
    any other step, and for what was not read."""
    if step.kind != "identify":
        return []
    if step.pairs:
        return list(_numbers(step, values))
    return list(_terminals([g for g in step.gates if g.group and g.target is not None], values))


def _numbers(step: StepOut, values: Mapping[str, float]) -> Iterator[str]:
    """Of a walk: each core has the size of its group here (its gate's group) and the one read; every pair of
    numbers belongs to one wire."""
    seen: dict[tuple[int, int], str] = {}
    known = {tuple(p) for p in step.pairs}
    for g in step.gates:
        if g.id not in values or not g.group:
            continue
        pair = int(g.group), round(values[g.id])
        if pair not in known:
            yield f"{g.name}: no wire has the numbers {pair[0]} and {pair[1]}. Ring it again."
        elif pair in seen:
            both = f"{seen[pair]} and {g.name} both have the numbers {pair[0]} and {pair[1]}"
            yield f"{both}. Ring these again."
        seen.setdefault(pair, g.name)


def _terminals(gates: list[GateOut], values: Mapping[str, float]) -> Iterator[str]:
    """One to one: which core rings at which terminal, by their numbers; what was not read rings at its
    own."""
    at = {g.name: round(values.get(g.id, g.target or 0.0)) for g in gates}
    owner = {round(g.target or 0.0): g for g in gates}
    unit = {g.name: g.group for g in gates}
    wrong = [g for g in gates if at[g.name] != round(g.target or 0.0)]
    read = [g for g in gates if g.id in values]
    for g in wrong:
        if at[g.name] not in owner:
            yield f"{g.name} rings at {at[g.name]}, and there is no such terminal. Ring it again."
    for n, g in enumerate(read):
        twice = [h for h in read[:n] if at[h.name] == at[g.name]]
        if twice:
            yield f"{twice[0].name} and {g.name} both ring at {at[g.name]}. Ring these again."
    for u in dict.fromkeys(g.group for g in wrong):
        mine = [g for g in gates if g.group == u]
        goes = {unit[owner[at[g.name]].name] for g in mine if at[g.name] in owner}
        off = [g for g in mine if g in wrong and at[g.name] in owner]
        said = ", ".join(f"{g.name} is joined to {owner[at[g.name]].name}" for g in off)
        if not off:
            continue
        if len(mine) == 1:
            yield f"{said}: join it anew."
        elif goes == {u}:
            yield f"Unit {u} is swapped in itself ({said}): its polarity is wrong. Join it anew."
        elif len(goes) > 1:
            yield f"Unit {u} is split ({said}): a split pair lets the others in. Join it anew."
        else:
            yield f"Unit {u} lies where unit {next(iter(goes))} belongs ({said}). Join both anew."
