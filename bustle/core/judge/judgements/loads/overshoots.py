"""F30: heavy hips overshoot."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.extremes import least
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity, by_joint
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.foot_gives import servo_stiffness
from bustle.core.loads.overshoot import MAY, WILL, overshoot
from bustle.core.loads.told import not_worked_out
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, number


def judged(r: Reading) -> str | None:
    why = not_worked_out(r)
    if why or np.isfinite(r.of(overshoot).damping).any():
        return why
    return "no leg is in the air and no arm moves"


def overshoots(r: Reading) -> Iterator[Finding]:
    """Warn where a servo will overshoot with what it swings, note where it may."""
    damping = r.of(overshoot).damping
    first = [r.kit.joints[s.first] for s in r.kit.servos]
    reported: set[str] = set()
    checks: tuple[tuple[Severity, float, str], ...] = (("warn", WILL, "will"), ("note", MAY, "may"))
    for severity, limit, how in checks:
        soft = sorted(np.flatnonzero(damping < limit).tolist(), key=lambda n: round(float(damping[n]), 9))
        for joint, columns in by_joint([j.name for j in first], soft).items():
            if joint in reported:
                continue
            reported.add(joint)
            worst = columns[0]
            value = float(damping[worst])
            yield Finding(
                "F30", severity, f"{how.capitalize()} overshoot",
                f"{first[worst]} {how} swing {number(100 * _past(value), 0)} % past where it is told: damped to "
                f"{number(value, 2)} of what would just not swing; keep {number(MAY, 2)}."
                + also([first[c].limb.name for c in columns[1:]]),
                tuple((first[c].limb.name, joint) for c in columns), None, value, MAY, "of critical",
            )  # fmt: skip


def _past(damping: float) -> float:
    """How far a step runs on past its end, as a share of it: exp(−π·ζ/√(1 − ζ²))."""
    return float(np.exp(-np.pi * damping / np.sqrt(1 - min(damping, 0.999) ** 2)))


def _friction_rings(m: Mending) -> Iterator[Edit]:
    """A ring that holds enough on every joint that swings too freely; it takes so much of the servo's torque."""
    r = m.reading
    found, sheet = r.of(overshoot), r.of(at_its_voltage)
    operations, most = [], 0.0
    for k, servo in enumerate(r.kit.servos):
        joint = r.kit.joints[servo.first]
        if found.damping[k] >= MAY or joint.slides or joint.name != m.finding.subject:
            continue
        limbs = r.project.walker.limbs
        limb = next(n for n, part in enumerate(limbs) if part.name == joint.limb.name)
        place = next(n for n, own in enumerate(limbs[limb].joints) if own.name == joint.name)
        lacks = (MAY - float(found.damping[k])) * np.pi * float(sheet.stall_nm[k]) / 2
        ring = float(np.ceil(100 * (float(r.kit.friction_nm[servo.first]) + lacks) + 1e-6) / 100)
        operations.append(replace(f"/walker/limbs/{limb}/joints/{place}/friction_nm", ring))
        most = max(most, ring)
    if operations:
        yield Edit(f"Friction rings of {number(most, 2)} N·m on {m.finding.subject}", tuple(operations))


def _read(r: Reading) -> Told | None:
    if judged(r):
        return None
    return float(r.of(overshoot).damping.min()), None


def _working(r: Reading) -> Lines:
    found = r.of(overshoot)
    k = least(found.damping)
    servo, sheet = r.kit.servos[k], r.of(at_its_voltage)
    b = float(sheet.stall_nm[k] / sheet.speed_rad_s[k])
    stiff, inertia = float(r.of(servo_stiffness)[k]), float(found.inertia_kg_m2[k])
    rotor = "with its rotor" if servo.sheet.rotor else "its rotor left out, since nobody told of it"
    return (
        f"{r.kit.joints[servo.first]}: what it swings has {number(inertia * 1e4, 2)} kg·cm² about it ({rotor}),",
        f"on a spring of {number(stiff)} N·m a radian, damped by stall torque / free speed = {number(b, 3)} N·m·s",
        f"{number(b, 3)} / (2·√({number(stiff)} × {number(inertia, 5)})) and friction rings = "
        f"{number(float(found.damping[k]), 2)} of critical",
    )


DAMPING = FigureSpec("damping", "Least damped", "of critical", 2, _read, _working, ("load",), better=1, compared=True)

JUDGEMENT = Judgement(
    "F30",
    "Legs come to rest where they are told",
    ("load",),
    overshoots,
    judged,
    stops=False,
    figures=(DAMPING,),
    ways=(Offer(_friction_rings, keep="first", any_motion=True),),
)
