"""Whatever stands in a motion or a walker, it is answered as asked or with a sentence: never a 500, never a NaN."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from bustle.core.project.project import document
from bustle.core.walk.motions.retold import as_keyframes
from tests.long import in_turns
from tests.projects import demo, start
from tests.seeded import SeededTest
from tests.web.test_api import ApiTest, decode

ODD: list[Any] = [
    None, True, -1, 0, 1, 0.5, 1e-9, -0.25, 359.9, 1e308, float("nan"), float("inf"), "", "Forward", "x" * 3000, "<b>",
    [], {}, [1], [0.0, 0.0], {"limb": "L1"}, {"motion": "Forward"},
]  # fmt: skip
PLACES = ("motions", "motions", "motions", "motions", "start_up", "controls", "floor", "walked", "limits", "controller")


def every_kind() -> dict[str, Any]:
    """A walker with a motion of every kind."""
    project = demo("faults/F49.sound")
    walk = next(m.name for m in project.motions if m.kind == "phase_gait")
    values = document(project)
    leg = project.walker.legs[0]
    still = {"vx_mm_s": 0.0, "vy_mm_s": 0.0, "omega_deg_s": 0.0}
    values["motions"][0]["pauses"] = [{"at": 0.3, "hold_s": 0.4}]
    values["motions"] += [
        {"kind": "joint_pose", "name": "Centred", "joints": [
            {"limb": leg.name, "joint": leg.joints[1].name, "value": 10.0}]},
        {**as_keyframes(project, walk).model_dump(mode="json"), "name": "Frames"},
        {"kind": "transition", "name": "Down", "start": {"motion": walk, "phase": 0.3}, "end": {"motion": "Centred"}},
        {"kind": "programme", "name": "Row", "parts": [
            {"motion": walk, "amount": 2.0, "by": "cycles"}, {"motion": "Frames", "amount": 1.0, "by": "cycles"},
            {"motion": "Centred", "amount": 1.0, "by": "seconds"}]},
        {"kind": "free_walk", "name": "Free", "like": walk, "takes_s": 2.0, "ways": [
            {"from_s": 0.1, "twist": {**still, "vx_mm_s": 20.0}}, {"from_s": 1.0, "twist": still}]},
    ]  # fmt: skip
    values["walked"] = [{"motion": walk, "cycle_s": 1.0, "stroke_mm": 30.0, "lift_mm": 20.0}]
    values["controls"] = [{"mode": "Walk", "input": "Stick", "does": "motion", "target": walk}]
    return values


class Odd(ApiTest, SeededTest):
    """A project with one value replaced by something odd, and what any answer to it must be."""

    places: tuple[str, ...] = PLACES

    def setUp(self):
        ApiTest.setUp(self)
        SeededTest.setUp(self)

    def bent(self, values: dict[str, Any]) -> tuple[dict[str, Any], str]:
        """The project with one value, anywhere under one of the places, replaced by something odd."""
        draft = json.loads(json.dumps(values))
        *above, key = str(self.random.choice(self.places)).split("/")
        parent = draft
        for name in above:
            parent = parent[name]
        way: list[Any] = [*above, key]
        while isinstance(parent[key], (dict, list)) and parent[key] and self.random.random() > 0.12:
            parent = parent[key]
            keys = list(parent) if isinstance(parent, dict) else range(len(parent))
            key = keys[int(self.random.integers(len(keys)))]
            way.append(key)
        parent[key] = self.odd(parent[key])
        return draft, f"seed {self.seed}: {'/'.join(map(str, way))} = {str(parent[key])[:40]}"

    def odd(self, value: Any) -> Any:
        """Something quite else, or something of the kind that may just do."""
        if self.random.random() < 0.35:
            return ODD[int(self.random.integers(len(ODD)))]
        if isinstance(value, bool):
            return not value
        if isinstance(value, (int, float)):
            return type(value)(value * float(self.random.choice([0.0, 0.3, 0.9, 1.1, 3.0, -1.0])))
        if isinstance(value, list) and value:
            return [value[1:], value[::-1], [*value, value[0]]][int(self.random.integers(3))]
        return None if self.random.random() < 0.3 else value

    def refuses_constants(self, name: str) -> None:
        self.fail(f"{name} in an answer")

    def told(self, address: str, body: dict[str, Any], what: str, answered: dict[int, int]) -> None:
        answer = self.web.post(address, data=json.dumps(body), content_type="application/json")
        with self.subTest(address=address, what=what):
            self.assertIn(answer.status_code, answered, answer.data[:300])
            answered[answer.status_code] += 1
            if answer.mimetype == "application/octet-stream":
                head, arrays = decode(answer.data)
                self.assertTrue(all(np.isfinite(a).all() for a in arrays.values()))
                self.assertTrue(all(np.isfinite(f["value"]) for f in head["figures"]))
            elif answer.mimetype != "image/svg+xml":
                said = json.loads(answer.data, parse_constant=self.refuses_constants)
                if answer.status_code == 422:
                    self.assertRegex(said["detail"], r"^\S.* \w.*\.$")


class OddInput(Odd):
    def asked(self, draft: dict[str, Any], motions: list[str]) -> tuple[str, dict[str, Any]]:
        name = str(self.random.choice(motions))
        stick = {k: round(float(self.random.uniform(-1, 1)), 2) for k in ("ahead", "left", "turn")}
        sticks = [{"from_s": 0.1, **stick}, {"from_s": 1.0}]
        asks: list[tuple[str, dict[str, Any]]] = [
            ("/api/evaluate", {"motion": name}),
            ("/api/evaluate", {"motion": name}),
            ("/api/drive", stick),
            ("/api/drive-by-rule", {"sticks": sticks, "takes_s": 2.0}),
            ("/api/soft-start", {}),
            ("/api/next-leg", {"motion": name, "time_s": 0.4, "omega_deg_s": 5.0}),
            ("/api/retold", {"motion": name}),
            ("/api/contacts", {"motion": name}),
            ("/api/driven", {"sticks": sticks, "takes_s": 2.0}),
        ]
        address, body = asks[int(self.random.integers(len(asks)))]
        return address, {"project": draft, **body}

    @in_turns
    def test_every_question_about_a_bent_motion_is_answered_or_refused(self):
        values = every_kind()
        motions = [m["name"] for m in values["motions"]]
        answered = {200: 0, 422: 0}
        for _ in range(160):
            draft, what = self.bent(values)
            address, body = self.asked(draft, motions)
            self.told(address, body, what, answered)
        self.assertGreater(min(answered.values()), 12, answered)

    def test_every_kind_of_motion_is_evaluated_as_it_stands(self):
        values = every_kind()
        for motion in values["motions"]:
            answer = self.web.post("/api/evaluate", json={"project": values, "motion": motion["name"]})
            self.assertEqual(answer.status_code, 200, (motion["name"], answer.data[:300]))


class OddWalkers(Odd):
    """The same of what a walker is made of, asked of the bench for one leg and of the frame."""

    places = (
        "walker/limbs", "walker/limbs", "walker/limbs", "walker/limbs", "walker/drives", "walker/drives",
        "walker/masses", "walker/sections", "walker/leads", "walker/as_built", "walker/folded", "servo_types",
        "budget", "limits",
    )  # fmt: skip

    def walkers(self) -> list[dict[str, Any]]:
        found = []
        for shape in ("six_sprawled", "four_upright", "two_full", "two_parallelogram", "four_casters"):
            found.append(document(start(shape, "Odd", 200.0)))
        found.append(every_kind())
        for values in found:
            limb = values["walker"]["limbs"][0]
            link = f"{limb['name']}/{limb['links'][0]['name']}"
            path = [{"on": "body", "at_mm": [0.0, 0.0, 10.0]}, {"on": link}]
            values["walker"]["leads"] = [{"name": "Lead", "length_mm": 300.0, "path": path}]
            values["walker"]["folded"] = {"box_mm": [300.0, 300.0, 200.0], "joints": []}
            values["walker"]["as_built"]["limbs"] = [{
                "limb": limb["name"], "joint_zero_deg": {limb["joints"][0]["name"]: 2.0},
                "drift": [{"height_mm": h, "drift_mm": [1.0 * n, 0.0]} for n, h in enumerate((-90.0, -100.0, -110.0))],
            }]  # fmt: skip
        return found

    def asks(self, values: dict[str, Any]) -> tuple[str, dict[str, Any]]:
        limbs = [m["name"] for m in values["walker"]["limbs"]]
        limb = limbs[0] if self.random.random() < 0.6 else str(self.random.choice(limbs))
        foot = [round(float(v), 1) for v in self.random.uniform(-200, 200, 3)]
        motion = values["motions"][0]["name"]
        asks: list[tuple[str, dict[str, Any]]] = [
            ("/api/evaluate", {"motion": motion}),
            ("/api/clamp", {"limb": limb, "foot_mm": foot, "views": []}),
            ("/api/clamp", {"limb": limb, "foot_mm": foot, "views": ["side"]}),
            ("/api/straight", {"limb": limb, "foot_mm": foot, "line": "mixed", "length_mm": 40.0}),
            ("/api/drift", {"limb": limb}),
            ("/api/parts", {}),
            ("/api/fitting-gaits", {}),
            ("/api/soft-start", {}),
            ("/api/frame", {"action": "section", "axis": "pitch"}),
            ("/api/frame", {"action": "relabel", "scheme": "corners"}),
            *(("/api/frame", {"action": action, "limb": limb, "count": 3}) for action in
              ("mirror", "copy", "remove", "repeat")),
            *(("/api/frame", {"action": "add", "role": role, "family": family}) for role, family in
              (("leg", "upright_2"), ("arm", "serial"), ("support", "fixed"))),
            ("/api/frame", {"action": "refit", "limb": limb, "family": "upright_3", "alike": False}),
        ]  # fmt: skip
        return asks[int(self.random.integers(len(asks)))]

    @in_turns
    def test_every_question_about_a_bent_walker_is_answered_or_refused(self):
        answered = {200: 0, 422: 0}
        walkers = self.walkers()
        for n in range(160):
            values = walkers[n % len(walkers)]
            draft, what = self.bent(values)
            address, body = self.asks(values)
            self.told(address, {"project": draft, **body}, what, answered)
        self.assertGreater(min(answered.values()), 12, answered)

    @in_turns
    def test_as_they_stand_every_question_is_answered(self):
        answered = {200: 0, 422: 0}
        for values in self.walkers():
            for _ in range(9):
                address, body = self.asks(values)
                self.told(address, {"project": values, **body}, "as it stands", answered)
        self.assertGreater(answered[200], 30, answered)

    def test_without_a_motion_every_question_is_answered_or_refused(self):
        """And with nothing but a pose of joints, or nothing but frames."""
        values = every_kind()
        kinds = {m["kind"]: m for m in values["motions"]}
        clear = {"controls": [], "walked": []}
        for motions in ([], [kinds["joint_pose"]], [kinds["keyframes"]]):
            bare = {**values, **clear, "motions": motions, "start_up": {}}
            name = motions[0]["name"] if motions else "Nothing"
            answered = {200: 0, 422: 0, 404: 0}
            stick = {"ahead": 1.0, "left": 0.0, "turn": 0.0}
            for address, body in (
                ("/api/evaluate", {"motion": name}), ("/api/drive", stick), ("/api/motion-set", {"gait": None}),
                ("/api/drive-by-rule", {"sticks": [{"from_s": 0.1, **stick}], "takes_s": 2.0}),
                ("/api/soft-start", {}), ("/api/fitting-gaits", {}), ("/api/rivals", {"rivals": []}),
                ("/api/parts", {}),
                ("/api/next-leg", {"motion": name, "time_s": 0.1}), ("/api/retold", {"motion": name}),
                ("/api/contacts", {"motion": name}), ("/api/sound-band", {"motion": name, "lever": "lift"}),
            ):  # fmt: skip
                self.told(address, {"project": bare, **body}, f"{len(motions)} motions", answered)
            self.assertGreater(answered[200], 1)
