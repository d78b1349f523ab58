"""A drag, a whole judgement, a sound band, a set and a free chain, against the floor, and how cost grows.

Smallest processor times in one process. From bytes to bytes: a request's JSON in, the screen's buffer out.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Iterator
from functools import partial
from itertools import count

import orjson
from floor import ROUNDS, floor_s, least_s, page_faults

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.file import read_json
from bustle.core.dry_run.dry_run import dry_run
from bustle.core.edits.levers import LEVERS
from bustle.core.evaluate import evaluate
from bustle.core.judge.registry import shown_at, told_at
from bustle.core.loads.foot_forces import foot_forces
from bustle.core.loads.held_against_sag import sent_joints, sent_servos
from bustle.core.loads.joint_torques import joint_torques
from bustle.core.project.project import document
from bustle.core.search.motion_set import motion_set
from bustle.core.search.sound_band import sound_band
from bustle.core.starting.starting_walkers import start
from bustle.web.application import create_app
from bustle.web.drawn.picture import drawn_first, picture
from bustle.web.drawn.recent_plans import plan_of

ROWS = 240


def with_rows(project: CheckedProject, rows: int, motion: int = 0) -> CheckedProject:
    """The first walk so slow that its table has that many rows; the strides stay."""
    values = document(project)
    period = values["controller"]["frame_period_ms"] / 1000
    walk = values["motions"][motion]
    share = walk["cycle_s"] / (rows * period)
    walk["cycle_s"] = rows * period
    walk["twist"] = {k: v * share for k, v in walk["twist"].items()}
    return parse_project(values)


def request(project: CheckedProject, station: str | None) -> bytes:
    name = project.motions[0].name
    return orjson.dumps({"project": document(project), "motion": name, "station": station})


def dragged(project: CheckedProject, station: str | None, part: str = "height", motion: int = 0) -> Iterator[bytes]:
    """One request after another as a hand drags a motion's body height, a leg's mount, or where it stands, by a little
    or far and near: no two are alike."""
    values = document(project)
    limb, pose = values["walker"]["limbs"][0], values["motions"][motion]["pose"]
    stood = list(limb["neutral_mm"])
    for n in count(1):
        by = 0.01 * (-1) ** n * n
        if part == "mount":
            limb["mount"]["at_mm"][0] += by
        elif part == "foot":
            limb["neutral_mm"][0] += by
        elif part == "foot, far":
            limb["neutral_mm"] = [stood[0] + 10 * math.sin(n / 9), stood[1] + 15 * (math.cos(n / 13) - 1.0)]
        else:
            pose["ride_height_mm"] += by
        yield orjson.dumps({"project": values, "motion": project.motions[motion].name, "station": station})


def answered(body: bytes) -> bytes:
    """What a request comes to without the web server: read, checked, evaluated, written."""
    asked = read_json(body)
    return picture(evaluate(parse_project(asked["project"]), asked["motion"]), asked["station"])


def answer_next(bodies: Iterator[bytes]) -> bytes:
    return answered(next(bodies))


def draw_next(bodies: Iterator[bytes]) -> bytes:
    """As far as what is drawn, before anything is judged."""
    asked = read_json(next(bodies))
    return next(drawn_first(evaluate(parse_project(asked["project"]), asked["motion"]), asked["station"]))


def late_s(answer: Callable[[Iterator[bytes]], bytes], bodies: Iterator[bytes], count: int = 60) -> float:
    """The 95th percentile of so many."""
    taken = []
    for _ in range(count):
        begun = time.process_time()
        answer(bodies)
        taken.append(time.process_time() - begun)
    return sorted(taken)[int(0.95 * count)]


def rested(bodies: Iterator[bytes]) -> float:
    """Processor seconds of what is asked for after the last answer of a drag, of the same draft."""
    body = next(bodies)
    for sent in (body, orjson.dumps(orjson.loads(body) | {"station": None})):
        begun = time.process_time()
        asked = read_json(sent)
        picture(plan_of(parse_project(asked["project"]), asked["motion"]), asked["station"])
    return time.process_time() - begun


def carrying_s(body: bytes, known: bool) -> float:
    """Processor seconds that loads take once the walk is worked out, or once a drag at stride is judged."""
    asked = read_json(body)
    plan = evaluate(parse_project(asked["project"]), asked["motion"])
    if known:
        told_at(plan.reading, "stride")
    begun = time.process_time()
    for measure in (foot_forces, joint_torques, sent_joints, sent_servos):
        plan.reading.of(measure)
    return time.process_time() - begun


def hundred_steps(project: CheckedProject) -> CheckedProject:
    """Fifty cycles of a tripod, two steps each: ahead, round, ahead again."""
    parts = [("Forward", 20.0), ("Turn left", 10.0), ("Forward", 20.0)]
    values = document(project)
    named = [{"motion": name, "amount": cycles} for name, cycles in parts]
    values["motions"].append({"kind": "programme", "name": "Hundred", "parts": named})
    return parse_project(values)


def free_chain(reach: float) -> CheckedProject:
    """Six legs of three free hinges each, standing so far out as a share of what they reach."""
    values = document(start("six_sprawled", "Chains", 200.0))
    for limb in values["walker"]["limbs"]:
        lengths = [link["length_mm"] for link in limb["links"]]
        limb["family"], limb["branch"], limb["hip_offset_mm"] = "serial", "as_near_as_it_gets", [0.0, 0.0, 0.0]
        limb["keep"] = None
        axes = ([0.0, 0.0, 1.0], [0.0, 1.0, 0.0], [0.0, 1.0, 0.0])
        for joint, axis in zip(limb["joints"], axes, strict=True):
            joint["axis"], joint["min_deg"], joint["max_deg"] = axis, -150.0, 150.0
        for link, length in zip(limb["links"], lengths, strict=True):
            link["offset_mm"] = [length, 0.0, 0.0]
        mount = limb["mount"]
        away = [n - m for n, m in zip(limb["neutral_mm"], mount["at_mm"], strict=False)]
        size = (away[0] ** 2 + away[1] ** 2) ** 0.5
        limb["neutral_mm"] = [m + reach * sum(lengths) * a / size for m, a in zip(mount["at_mm"], away, strict=False)]
    return parse_project(values)


def main() -> None:
    floor = floor_s()
    print(f"floor, four arc tangents and two roots of a million: {floor * 1e3:.1f} ms of processor")

    def tell(what: str, seconds: float, aim: float | None = None) -> None:
        aims = f" (aim: {aim:g})" if aim else ""
        print(f"{what}: {seconds * 1e3:.1f} ms, {seconds / floor:.2f} of the floor{aims}")

    six = with_rows(start("six_sprawled", "Bench", 200.0), ROWS)
    for station in ("stride", "balance", "frame", "table", "load"):
        told = f"a drag at {station}, bytes to bytes, 18 joints x {ROWS} rows"
        tell(told, least_s(partial(answer_next, dragged(six, station))), 0.4)
    tell("a drag at frame of a leg's mount", least_s(partial(answer_next, dragged(six, "frame", "mount"))))
    # With the steps and the cycle that it comes with, its legs swing past each other closely.
    own = start("six_sprawled", "Bench", 200.0)
    tell("a drag at stride of a foot, in its own cycle", least_s(partial(answer_next, dragged(own, "stride", "foot"))))
    tell("a foot far and near, 95th percentile: judged", late_s(answer_next, dragged(own, "stride", "foot, far")))
    tell("a foot far and near, 95th percentile: drawn", late_s(draw_next, dragged(own, "stride", "foot, far")))
    for station in ("stride", "load"):
        tell(f"a drag at {station}, as far as it is drawn", least_s(partial(draw_next, dragged(six, station))), 0.4)
    tell("everything, bytes to bytes", least_s(partial(answer_next, dragged(six, None))), 0.6)
    bodies = dragged(six, "stride")
    tell("everything, once the hand of a drag at stride rests", min(rested(bodies) for _ in range(ROUNDS)))
    body = request(six, None)
    client = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none").test_client()
    sent = dragged(six, "stride")
    tell(
        "the whole request of a drag, through the web application",
        least_s(lambda: client.post("/api/evaluate", data=next(sent), content_type="application/json")),
    )
    tell("reading and checking the draft alone", least_s(lambda: parse_project(read_json(body)["project"])))
    print(f"page faults of a drag: {page_faults(lambda: answered(request(six, 'stride')))}")

    for against in ("off", "static", "full"):
        drags = dragged(six.model_copy(update={"against_sag": against}), "load")
        alone, beside = (min(carrying_s(next(drags), known) for _ in range(ROUNDS)) for known in (False, True))
        tell(f"forces, torques and sent angles, held against sag {against}, nothing else asked", alone, 0.12)
        tell("the same, beside what a drag at stride judges", beside, 0.12)
    for shape, walk in (("two_full", "Forward"), ("four_upright", "Trot")):
        project = start(shape, "Bench", 220.0)
        named = [m.name for m in project.motions].index(walk)
        project = with_rows(project, ROWS, named)
        told = {"F53", "F19"}
        codes = shown_at("balance")[0]
        bare, judged, others, whole = (
            least_s(lambda: evaluate(project, walk).findings_among(asked))  # noqa: B023
            for asked in ((), told, codes - told, codes)
        )
        tell(f"where it pushes and how it leans, {shape} {walk}, nothing else asked", judged - bare, 0.03)
        tell(f"the same, beside what else a drag at balance judges, {shape} {walk}", whole - others, 0.03)
        held = least_s(partial(answer_next, dragged(project, "balance", motion=named)))
        tell(f"a drag at balance, {shape} {walk}, held against sag ({project.against_sag})", held)

    small, large = (least_s(lambda: answered(request(with_rows(six, rows), "stride"))) for rows in (240, 2400))  # noqa: B023
    slope = (large - small) / 2160
    print(f"a drag: {(small - 240 * slope) * 1e3:.1f} ms whatever its rows, and {slope * 1e6:.1f} µs a row")

    lever = LEVERS["ride_height"]
    tell(
        "a sound band of 21 values with its halvings",
        least_s(lambda: sound_band(six, "Forward", lever, lever.low, lever.high), 5),
        8,
    )
    tell(
        "a set of motions for six legs", least_s(lambda: motion_set(start("six_sprawled", "Bench", 200.0), "tripod"), 3)
    )
    trots = start("four_upright", "Bench", 220.0)
    tell("a trot in a dry run, six machines", least_s(lambda: dry_run(trots, "Trot"), 3))
    course = hundred_steps(start("six_sprawled", "Bench", 200.0))
    tell("a programme of 100 steps, everything", least_s(lambda: picture(evaluate(course, "Hundred")), 3))
    near, far = (least_s(lambda: picture(evaluate(free_chain(r), "Stand")), 3) for r in (0.55, 1.2))  # noqa: B023
    print(f"a free chain in reach {near * 1e3:.0f} ms, out of it {far * 1e3:.0f} ms: {far / near:.1f} times (aim: 2)")


if __name__ == "__main__":
    main()
