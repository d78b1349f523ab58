"""F04: large, fast steps draw the supply down, and the controller or the servos start anew in mid-walk."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.other_orders import other_orders
from bustle.core.judge.judgements.bench.boards_told import banks_told
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.supply_current import Drawn, amperes, assumed_of_supplies, drawn, resistance_ohm, volts_left
from bustle.core.loads.told import not_carried_moving
from bustle.core.project.electrics import Bank
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number, seconds

# Of what it is made for, a regulator gives this share without getting hot, and a fuse carries this for hours: makers'
# rules of thumb, assumed.
REGULATOR_SHARE, FUSE_SHARE = 0.8, 0.75
# A pack is emptied by this share of what it holds, and lasts for ever where less than so many A are drawn of it.
USED, LEAST_A = 0.8, 0.005


def supply_gives_out(r: Reading) -> Iterator[Finding]:
    """Of each supply: what it draws at most against its regulator, what it leaves of its voltage against what servos
    need, and what it draws all along against its fuse."""
    for own in r.of(drawn):
        if own.bank is not None:
            yield from _regulator(r, own.bank, own)
            yield from _sags(r, own.bank, own)
            yield from _fuse(own.bank, own)


def not_drawn(r: Reading) -> str | None:
    """Why nothing can be said of supplies here; None where it can."""
    return banks_told(r) or not_carried_moving(r)


def _regulator(r: Reading, bank: Bank, own: Drawn) -> Iterator[Finding]:
    row = greatest(own.amperes)
    most, gives, time = float(own.amperes[row]), bank.regulator_a, float(row * r.row_s)
    if gives is None or most <= REGULATOR_SHARE * gives:
        return
    draw = f"its {len(own.of)} servos draw {number(most)} A at {seconds(time)}"
    told = f"{bank.name}'s regulator gives {number(gives)} A; {draw}"
    out = most > gives
    yield Finding(
        "F04", "stop" if out else "warn", "The supply gives out" if out else "Little left in the regulator",
        f"{told}. Its voltage falls, and whatever hangs on it starts anew." if out
        else f"{told}; above {number(100 * REGULATOR_SHARE, 0)} % of it, it runs hot.",
        (("", f"{bank.name} regulator"),), time, most, gives if out else REGULATOR_SHARE * gives, "A",
    )  # fmt: skip


def _sags(r: Reading, bank: Bank, own: Drawn) -> Iterator[Finding]:
    needs = max((r.kit.servos[k].sheet.least_v or 0.0 for k in own.of), default=0.0)
    row = greatest(own.amperes)
    most, time = float(own.amperes[row]), float(row * r.row_s)
    left = float(volts_left(bank, own.amperes[row]))
    if left >= needs:
        return
    takes = f"leave {number(left)} V" if left > 0 else "take all of it"
    yield Finding(
        "F04", "stop", "The supply sags",
        f"Nearly empty, {bank.name} gives {number(bank.empty_v)} V; {number(most)} A at {seconds(time)} over "
        f"{_resistance(bank)} {takes}, and its servos need {number(needs)} V.",
        (("", f"{bank.name} volts"),), time, left, needs, "V",
    )  # fmt: skip


def _resistance(bank: Bank) -> str:
    assumed = ", assumed," if bank.resistance_mohm is None else ""
    return f"{number(1000 * resistance_ohm(bank), 0)} mΩ{assumed}"


def _fuse(bank: Bank, own: Drawn) -> Iterator[Finding]:
    carried, fuse = _warms(own.amperes), bank.fuse_a
    if fuse is None or carried <= FUSE_SHARE * fuse:
        return
    blows = carried > fuse
    yield Finding(
        "F04", "stop" if blows else "warn", "The fuse blows" if blows else "The fuse runs warm",
        f"{bank.name} carries {number(carried)} A all along; its fuse is one of {number(fuse)} A"
        + ("." if blows else f", and lasts below {number(FUSE_SHARE * fuse)} A."),
        (("", f"{bank.name} fuse"),), None, carried, fuse if blows else FUSE_SHARE * fuse, "A",
    )  # fmt: skip


def _warms(values: np.ndarray) -> float:
    """The root of the mean square: what warms a wire."""
    return float(np.sqrt(np.mean(values**2)))


def _regulator_of(m: Mending) -> Iterator[Edit]:
    """A regulator with room for the most it draws; what a fuse carries is for the wire to say, and nothing to turn."""
    for own in m.reading.of(drawn):
        bank = own.bank
        if bank is not None and m.finding.subject == f"{bank.name} regulator":
            n = next(k for k, known in enumerate(m.project.electrics.banks) if known.name == bank.name)
            wanted = float(np.ceil(float(own.amperes.max()) / REGULATOR_SHARE))
            yield Edit(
                f"A regulator of {number(wanted)} A for {bank.name}",
                (replace(f"/electrics/banks/{n}/regulator_a", wanted),),
            )


def _hardest(r: Reading) -> Drawn | None:
    """The supply that is drawn on most; of a machine without one, all servos together."""
    return None if not_carried_moving(r) else max(r.of(drawn), key=lambda own: float(own.amperes.max()), default=None)


def _most(r: Reading) -> Told | None:
    own = r.of(_hardest)
    if own is None:
        return None
    row = greatest(own.amperes)
    return float(own.amperes[row]), float(row * r.row_s)


def _most_worked(r: Reading) -> Lines:
    own = r.of(_hardest)
    assert own is not None
    row = greatest(own.amperes)
    each, given, most = r.of(amperes)[row], r.of(at_its_voltage).volts, float(own.amperes[row])
    first = sorted(own.of, key=lambda k: -float(each[k]))[:3]
    lines = [
        f"{_named(own)} at {seconds(float(row * r.row_s))}, each I_idle + (I_run − I_idle)·|q̇|/ω₀ + "
        "(I_stall − I_run)·|τ|/τ_stall",
        "most of all " + ", ".join(f"{r.kit.servos[k].name} {number(float(each[k]), 2)} A" for k in first)
        + f", at {number(float(given[first[0]]))} V; together {number(most)} A",
    ]  # fmt: skip
    if own.bank is not None:
        left, empty = number(float(volts_left(own.bank, own.amperes[row]))), number(own.bank.empty_v)
        lines.append(f"over {_resistance(own.bank)} a pack at {empty} V leaves {left} V at the servos")
    assumed = tuple(assumed_of_supplies(r))
    return (*lines, *([f"assumed: {'; '.join(assumed)}"] if assumed else []))


def _named(own: Drawn) -> str:
    servos = f"{len(own.of)} servos"
    return servos if own.bank is None else f"{own.bank.name}, {servos},"


def _mean(r: Reading) -> Told | None:
    own = r.of(_hardest)
    return None if own is None else (float(own.amperes.mean()), None)


def _mean_worked(r: Reading) -> Lines:
    own = r.of(_hardest)
    assert own is not None
    least, most = (number(float(v)) for v in (own.amperes.min(), own.amperes.max()))
    return (
        f"{_named(own)} together between {least} and {most} A; the mean over the motion's rows",
        f"= {number(float(own.amperes.mean()))} A",
    )


def _emptied(r: Reading) -> tuple[float, Bank, float] | None:
    """Minutes until the first pack is empty, whose that is, and what is drawn of it, A."""
    if not_drawn(r):
        return None
    found = []
    for own in r.of(drawn):
        bank, mean = own.bank, float(own.amperes.mean())
        if bank is not None and bank.capacity_mah is not None and bank.chemistry != "mains" and mean > LEAST_A:
            found.append((60 * USED * bank.capacity_mah / 1000 / mean, bank, mean))
    return min(found, key=lambda f: f[0], default=None)


def _lasts(r: Reading) -> Told | None:
    found = r.of(_emptied)
    return None if found is None else (found[0], None)


def _lasts_worked(r: Reading) -> Lines:
    found = r.of(_emptied)
    assert found is not None
    minutes, bank, mean = found
    return (
        f"{bank.name}: {number(100 * USED, 0)} % of {number(bank.capacity_mah or 0.0, 0)} mAh / {number(mean, 2)} A",
        f"= {number(minutes, 0)} min of this motion; its logic is not counted",
    )


MOST = FigureSpec(
    "current_most", "Drawn at most", "A", 1, _most, _most_worked, ("load", "servos"), better=-1, compared=True
)
MEAN = FigureSpec("current_mean", "Drawn all along", "A", 1, _mean, _mean_worked, ("load",), better=-1)
LASTS = FigureSpec(
    "pack_lasts", "The pack lasts", "min", 0, _lasts, _lasts_worked, ("load", "servos"), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F04",
    "The supply holds",
    ("load", "servos"),
    supply_gives_out,
    not_drawn,
    figures=(MOST, MEAN, LASTS),
    ways=(
        Turn("pace", up=False),
        Turn("lift", up=False),
        Turn("ride_height", down=False),
        Turn("feet_out", up=False),
        Offer(other_orders, keep="first"),
        Offer(_regulator_of, any_motion=True),
    ),
)
