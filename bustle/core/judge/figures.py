"""The figures of a plan, each with its working: the formula with this walker's numbers in it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.judge.measures.footing import jolt_n
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.kinds.legs import FAMILIES
from bustle.core.machine.masses import total_kg
from bustle.core.project.motion import FreeWalk, PhaseGait
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import length, number, seconds


@dataclass(frozen=True)
class Figure:
    """A number with its unit, how many decimals mean anything, and how it came about, line by line."""

    name: str
    label: str
    value: float
    unit: str
    digits: int
    working: tuple[str, ...]
    time_s: float | None = None


def figures(e: Evidence) -> Iterator[Figure]:
    """Every figure of the plan. Names carry their unit."""
    yield from _walk_figures(e)
    yield from _step_figures(e)
    yield from _clearance_figures(e)
    yield from _balance_figures(e)
    yield from _joint_figures(e)
    yield from _table_figures(e)


def _walk_figures(e: Evidence) -> Iterator[Figure]:
    if e.gait:
        yield from _pace_figures(e, e.gait)
    elif not e.score.periodic:
        yield from _way_figures(e)
    yield from _mass_figures(e)


def _way_figures(e: Evidence) -> Iterator[Figure]:
    """Of a motion with a beginning and an end: how long, how far, which way round."""
    x, y, theta = (float(v[e.samples - 1] - v[0]) for v in e.course.body.travel)
    yield Figure("lasts_s", "Lasts", e.score.duration_s, "s", 1, ("from its first row to its last",))
    path = np.stack(e.course.body.travel[:2], axis=-1)[: e.samples]
    way = float(np.linalg.norm(np.diff(path, axis=0), axis=1).sum())
    yield Figure(
        "way_mm", "Way walked", way, "mm", 0,
        ("length of the path of the body's middle over the floor",
         f"it ends {number(x)} mm ahead and {number(y)} mm to the left of where it began"),
    )  # fmt: skip
    if isinstance(e.motion, FreeWalk):
        yield from _asked_figures(e, e.motion, way)
    yield Figure("heading_deg", "Heading at the end", float(np.degrees(theta)), "°", 1, ("all turns together",))


def _asked_figures(e: Evidence, walk: FreeWalk, way: float) -> Iterator[Figure]:
    """How much of the way it was told to go a walk by the rule comes to, since its body waits for its legs."""
    ends = [*(w.from_s for w in walk.ways[1:]), walk.takes_s]
    asked = sum(
        float(np.hypot(w.twist.vx_mm_s, w.twist.vy_mm_s)) * max(0.0, min(end, walk.takes_s) - w.from_s)
        for w, end in zip(walk.ways, ends, strict=True)
    )
    if asked > 0:
        yield Figure(
            "way_share", "Of the way asked for", 100 * way / asked, "%", 0,
            ("way walked / Σ speed asked for × time", f"= {length(way)} / {length(asked)}",
             "the rest is the body gathering pace, and waiting where no leg may lift yet"),
        )  # fmt: skip


def _pace_figures(e: Evidence, gait: PhaseGait) -> Iterator[Figure]:
    twist, cycle = gait.twist, gait.cycle_s
    speed = float(np.hypot(twist.vx_mm_s, twist.vy_mm_s))
    body = max(e.project.walker.sections[0].size_mm[:2])
    paused = e.score.duration_s - cycle
    slower = (
        (f"with {seconds(paused)} of pauses {number(speed * cycle / e.score.duration_s)} mm/s on average",)
        if paused > 1e-9
        else ()
    )
    yield Figure(
        "speed_mm_s", "Speed", speed, "mm/s", 0,
        ("√(vx² + vy²)", f"= √({number(twist.vx_mm_s)}² + {number(twist.vy_mm_s)}²) = {number(speed)} mm/s",
         *slower),
    )  # fmt: skip
    if speed > 0:
        yield from _course_figures(e, gait, speed, body)
    yield Figure(
        "stride_mm", "Stride", speed * cycle, "mm", 0,
        ("speed × cycle time", f"= {number(speed)} mm/s × {number(cycle, 3)} s = {length(speed * cycle)}"),
    )  # fmt: skip
    turn = twist.omega_deg_s * cycle
    yield Figure(
        "turn_deg", "Turn per cycle", turn, "°", 1,
        ("ω × cycle time", f"= {number(twist.omega_deg_s)} °/s × {number(cycle, 3)} s = {number(turn)}°"),
    )  # fmt: skip


def _course_figures(e: Evidence, gait: PhaseGait, speed: float, body: float) -> Iterator[Figure]:
    cycle, course = gait.cycle_s, e.project.floor.course_mm
    mean = speed * cycle / e.score.duration_s
    if body:
        yield Figure(
            "body_lengths_s", "In body lengths", speed / body, "1/s", 2,
            ("speed / the longer side of the frame",
             f"= {number(speed)} mm/s / {length(body)} = {number(speed / body, 2)} a second"),
        )  # fmt: skip
    yield Figure(
        "course_s", f"Course of {length(course)}", course / mean + cycle, "s", 1,
        ("length / mean speed + one cycle: gathering pace and losing it take a cycle each, at half the speed",
         f"= {length(course)} / {number(mean)} mm/s + {number(cycle, 3)} s = {seconds(course / mean + cycle)}"),
    )  # fmt: skip


def _mass_figures(e: Evidence) -> Iterator[Figure]:
    kg = total_kg(e.masses)
    groups: dict[str, float] = {}
    for entry in e.masses:
        kind = "legs and their servos" if entry.limb >= 0 else entry.name
        groups[kind] = groups.get(kind, 0.0) + entry.mass_kg * 1000
    largest = sorted(groups.items(), key=lambda item: -item[1])
    lines = [f"{name}: {number(grams, 0)} g" for name, grams in largest[:8]]
    if len(largest) > 8:
        lines.append(f"{len(largest) - 8} more: {number(sum(g for _, g in largest[8:]), 0)} g")
    yield Figure("mass_g", "Mass", kg * 1000, "g", 0, (*lines, f"together {number(kg * 1000, 0)} g"))


def _step_figures(e: Evidence) -> Iterator[Figure]:
    motion, limbs = e.gait, e.project.walker.limbs
    if not motion:
        return
    duty = {leg.limb: leg.duty for leg in motion.legs}
    longest = int(np.argmax(e.score.stroke_mm))
    stroke, name = float(e.score.stroke_mm[longest]), limbs[longest].name
    stance = duty[name] * motion.cycle_s
    yield Figure(
        "stroke_mm", "Longest stroke", stroke, "mm", 1,
        ("speed of the foot × duty × cycle time",
         f"{name}: {number(stroke / stance)} mm/s × {number(duty[name], 3)} × {number(motion.cycle_s, 3)} s"
         f" = {length(stroke)}"),
    )  # fmt: skip
    swing = (1 - max(duty.values())) * motion.cycle_s
    yield Figure(
        "swing_s", "Shortest swing", swing, "s", 2,
        ("(1 − duty) × cycle time",
         f"{max(duty, key=lambda leg: duty[leg])}: (1 − {number(max(duty.values()), 3)}) ×"
         f" {number(motion.cycle_s, 3)} s = {seconds(swing)}"),
    )  # fmt: skip
    speeds = e.score.landing_mm_s
    hardest = int(np.argmax(np.hypot(*speeds.T)))
    across, down = (float(v) for v in speeds[hardest])
    path = FOOT_PATHS[(e.timing[limbs[hardest].name].foot_path if limbs[hardest].name in e.timing else None)
                      or motion.foot_path]  # fmt: skip
    yield Figure(
        "landing_speed_mm_s", "Landing speed", float(np.hypot(across, down)), "mm/s", 0,
        (f"{limbs[hardest].name} on a {path.label.lower()}: slope of the path at its end × step or lift / swing time",
         f"{number(down, 0)} mm/s down, {number(across, 0)} mm/s across the ground"),
    )  # fmt: skip


def _clearance_figures(e: Evidence) -> Iterator[Figure]:
    """What a swing has in hand over the floor, and what a landing does."""
    limbs = e.project.walker.limbs
    if e.budgets:
        b = e.budgets[0]
        assumed = " (drive stiffness assumed)" if b.assumed else ""
        uneven = e.project.floor.unevenness_mm
        said = f"− {length(b.uneven_mm)} floor unevenness" if uneven is not None else "− 0 mm, floor taken as even"
        yield Figure(
            "clear_mm", "Left under the foot", b.left_mm, "mm", 1,
            (f"{limbs[b.limb].name} at its highest, {seconds(b.sample * e.row_s)}: path {length(b.height_mm)} up",
             f"− {number(b.sag_mm, 2)} mm sag of the body{assumed}",
             f"− {number(b.droop_mm, 2)} mm backlash droop", said, f"= {length(b.left_mm)}"),
            float(b.sample * e.row_s),
        )  # fmt: skip
    jolts = [(jolt_n(f, float(e.score.landing_mm_s[f.limb, 1])), f) for f in e.footings]
    if jolts:
        force, f = max(jolts, key=lambda j: j[0])
        down = float(e.score.landing_mm_s[f.limb, 1])
        yield Figure(
            "jolt_n", "Jolt of a landing", force, "N", 1,
            ("v·√(k·m)",
             f"{limbs[f.limb].name}: {number(down, 0)} mm/s × √({number(1 / f.give_mm_per_n, 2)} N/mm × "
             f"{number(f.mass_kg * 1000, 0)} g) = {number(force)} N",
             "stiffness of the drive " + ("assumed: stall torque 5° off" if f.assumed else "as stated"),
             "servo inertia assumed: up to speed in 30 ms"),
        )  # fmt: skip
    if e.searches:
        s = max(e.searches, key=lambda one: one.deg_per_ms)
        yield Figure(
            "late_deg_ms", "Lean of a late foot", s.deg_per_ms, "°/ms", 3,
            (f"{limbs[s.limb].name} comes down at {number(s.speed_mm_s, 0)} mm/s, {length(s.arm_mm)} from the "
             "middle of the feet that stand",
             f"atan({number(s.speed_mm_s / 1000, 3)} mm / {number(s.arm_mm)} mm) each ms"),
            s.time_s,
        )  # fmt: skip


def _balance_figures(e: Evidence) -> Iterator[Figure]:
    down = e.course.contact.sum(axis=0)
    fewest = int(np.argmin(down))
    yield Figure(
        "fewest_down", "Fewest feet down", float(down[fewest]), "", 0,
        (f"at {seconds(e.time_at(fewest))} the feet down are "
         + (", ".join(m.name for m, c in zip(e.project.walker.limbs, e.course.contact[:, fewest], strict=True) if c)
            or "none"),),
        e.time_at(fewest),
    )  # fmt: skip
    if e.worst_margin is not None:
        margin, at = e.worst_margin
        time = e.time_at(at)
        x, y = e.course.com_ground_mm[at, :2]
        feet = [
            f"{m.name} ({number(p[0])}, {number(p[1])})"
            for m, p, c in zip(
                e.project.walker.limbs, e.course.feet_ground_mm[:, at], e.course.contact[:, at], strict=True
            )
            if c
        ]
        yield Figure(
            "worst_margin_mm", "Worst margin", margin, "mm", 1,
            (f"at {seconds(time)}, in mm on the ground:", f"centre of mass ({number(x)}, {number(y)})",
             "feet down " + ", ".join(feet),
             f"distance to the nearest edge of their polygon = {number(margin)} mm"
             + ("" if margin > 0 else ", outside it")),
            time,
        )  # fmt: skip
    height = e.course.com_ground_mm[: e.samples, 2]
    yield Figure(
        "com_height_mm", "Centre of mass height", float(height.mean()), "mm", 0,
        ("Σ mᵢ·zᵢ / Σ mᵢ, averaged over the cycle",
         f"between {number(float(height.min()))} and {number(float(height.max()))} mm"),
    )  # fmt: skip


def _joint_figures(e: Evidence) -> Iterator[Figure]:
    hinges = np.array([0.0 if j.slides else 1.0 for j in e.joints])
    row, column = np.unravel_index(np.argmax(np.abs(e.rates) * hinges), e.rates.shape)
    rate, time = float(np.degrees(abs(e.rates[row, column]))), float(row * e.row_s)
    step = float(np.degrees(e.steps[row, column]))
    yield Figure(
        "peak_rate_deg_s", "Peak joint rate", rate, "°/s", 0,
        (f"{e.joints[column]}, from the row at {seconds(time)} to the next:",
         f"{number(step, 2)}° / {number(e.row_s * 1000, 2)} ms = {number(rate, 0)} °/s"),
        time,
    )  # fmt: skip
    limits = np.array([(j.low, j.high) for j in e.joints])
    room = np.minimum(e.angles - limits[:, 0], limits[:, 1] - e.angles)
    row, column = np.unravel_index(np.argmin(np.where(hinges > 0, room, np.inf)), room.shape)
    joint, angle = e.joints[column], float(np.degrees(e.angles[row, column]))
    yield Figure(
        "end_stop_room_deg", "Room to end stop", float(np.degrees(room[row, column])), "°", 1,
        (f"{joint} is at {number(angle)}° at {seconds(float(row * e.row_s))}",
         f"its stops are {number(np.degrees(joint.low))}° and {number(np.degrees(joint.high))}°"),
        float(row * e.row_s),
    )  # fmt: skip
    straight = e.course.solved.straight_mm[:, : e.samples]
    if np.isfinite(straight).any():
        limb, row = np.unravel_index(np.argmin(straight), straight.shape)
        short, leg = float(straight[limb, row]), e.project.walker.limbs[limb]
        family = FAMILIES[leg.family]
        a, b = (leg.links[k].length_mm for k in family.knee_links)
        yield Figure(
            "straight_knee_mm", "Reach in hand", short, "mm", 1,
            (f"{leg.name} at {seconds(float(row * e.row_s))}: hip joint to the end of the lower link is "
             f"{length(a + b - short)}",
             f"straight it would be {number(a)} + {number(b)} = {number(a + b)} mm",
             f"{number(a + b)} − {number(a + b - short)} = {number(short)} mm in hand"),
            float(row * e.row_s),
        )  # fmt: skip
    yield from _machine_figures(e)
    miss = e.course.solved.miss_mm[:, : e.samples]
    limb, row = np.unravel_index(np.argmax(miss), miss.shape)
    yield Figure(
        "miss_mm", "Furthest miss", float(miss[limb, row]), "mm", 1,
        (f"{e.project.walker.limbs[limb].name}, distance from foot to target, all samples",),
        float(row * e.row_s),
    )  # fmt: skip


def _machine_figures(e: Evidence) -> Iterator[Figure]:
    limbs = e.project.walker.limbs
    worst = int(np.argmax(e.slip))
    slip, stroke = float(e.slip[worst]), float(e.score.stroke_mm[worst])
    share = (f"{number(slip)} of a stroke of {number(stroke)} mm: {number(100 * slip / stroke)} %",) if stroke else ()
    yield Figure(
        "slip_mm", "Slip in a stance", slip, "mm", 1,
        (f"{limbs[worst].name}: the widest distance between two places of the foot while it stands", *share),
    )  # fmt: skip
    tilt = float(np.degrees(e.tilt.max(initial=0.0)))
    if any(FAMILIES[limb.family].pose for limb in e.project.walker.legs):
        at = int(np.argmax(e.tilt.max(axis=1)))
        yield Figure(
            "sole_tilt_deg", "Sole out of true", tilt, "°", 1,
            (f"{limbs[at].name}: the turn left over between its sole and how it should lie, at its most in stance",),
        )  # fmt: skip
    if e.gaps:
        gap = e.gaps[0]
        yield Figure(
            "clearance_mm", "Nearest parts", gap.distance_mm, "mm", 1,
            (f"{gap.first} and {gap.second} at {seconds(gap.sample * e.row_s)}, surface to surface",),
            float(gap.sample * e.row_s),
        )  # fmt: skip
    height, sample, what = e.belly
    yield Figure(
        "belly_mm", "Under the belly", height, "mm", 0,
        (f"the lowest of {what} above the floor, at {seconds(sample * e.row_s)}",), float(sample * e.row_s),
    )  # fmt: skip
    radius = e.turning_radius
    if radius is not None:
        yield Figure(
            "turning_radius_mm", "Smallest turning radius", radius, "mm", 0,
            ("the tightest arc on which every leg reaches, within its stops and the slip allowed,",
             f"with the furthest-moving foot making {length(float(e.score.stroke_mm.max()))} a stance",
             "0 is turning in place"),
        )  # fmt: skip
    if e.foot_plays:
        play = max(e.foot_plays, key=lambda p: p.play_mm)
        yield Figure(
            "foot_play_mm", "Play at the foot", play.play_mm, "mm", 1,
            (f"{limbs[play.limb].name} at mid-stance:",
             *(f"{name}: {number(deg, 2)}° × {number(lever)} mm = {number(np.radians(deg) * lever, 2)} mm"
               for name, deg, lever in play.joints),
             f"together {number(play.play_mm, 2)} mm at worst"),
        )  # fmt: skip


def _table_figures(e: Evidence) -> Iterator[Figure]:
    period = e.project.controller.frame_period_ms
    cycle = e.score.duration_s
    rows = max(2, round(cycle * 1000 / period))
    yield Figure(
        "rows", "Rows", float(rows), "", 0,
        ("cycle time / row period", f"= {number(cycle * 1000, 3)} ms / {number(period, 3)} ms"
         f" = {number(cycle * 1000 / period, 3)}, so {rows} rows"),
    )  # fmt: skip
    yield Figure(
        "row_step_deg", "Largest step between rows", float(np.abs(e.steps * e.scale).max(initial=0.0)), "°", 1,
        ("largest change of any joint from one row to the next, the last back to the first",),
    )  # fmt: skip
