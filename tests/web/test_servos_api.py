"""The Servos station's addresses: edits, what is told, files; whatever is sent, a sentence and no 5xx."""

from __future__ import annotations

import csv
import io
import json

import jsonschema
import numpy as np

from bustle.core.project.project import document
from tests.long import ALL, in_turns, is_long, times
from tests.projects import demo, hexapod, start
from tests.servo.machines import on_boards
from tests.web.test_api import FIXED, ApiTest

ACTIONS = (
    "number", "wire", "put", "put_limb", "board", "bank", "teeth", "calibrate", "replace", "seen", "mend", "forget",
    "trim", "step", "reading", "height",
)  # fmt: skip


class Servos(ApiTest):
    def edit(self, project, action, **more):
        answer = self.web.post("/api/electrics", json={"project": project, "action": action, **more})
        self.assertEqual(answer.status_code, 200, answer.text[:300])
        return answer.json["project"]

    @in_turns
    def test_from_nothing_to_a_machine_that_is_told(self):
        project = document(start("four_upright", "Nothing yet", 180.0))
        view = self.web.post("/api/bench", json={"project": project}).json
        self.assertEqual([s["left"] for s in view["steps"]][:1], ["no board is declared"])
        for action in ("board", "number", "wire", "teeth"):
            project = self.edit(project, action)
        view = self.web.post("/api/bench", json={"project": project}).json
        self.assertEqual([s["channel"] for s in view["servos"]], list(range(12)))
        self.assertEqual(view["boards"][0]["prescale"], 121)
        self.assertTrue(all(s["sees"].split()[-1].isupper() for s in view["servos"]))
        self.assertTrue(all(len(s["limb_mm"]) == len(s["turned_mm"]) for s in view["servos"]))
        first = view["servos"][0]["place"]
        project = self.edit(project, "seen", place=first, saw="other_way", at="2026-11-26 20:00")
        self.assertEqual(len(project["electrics"]["seen"][0]["table"]), 64)
        project = self.edit(project, "mend", place=first)
        told = next(s for s in self.web.post("/api/bench", json={"project": project}).json["servos"])
        self.assertEqual((told["direction"], told["mended"]), (-1, True))
        self.assertEqual(self.edit(project, "forget", place=first)["electrics"]["seen"], [])

    def test_what_cannot_be_done_is_a_sentence(self):
        bare = document(hexapod())
        wired = document(on_boards(hexapod(), 2))
        for project, body, words in (
            (bare, {"action": "wire"}, "there is no board"),
            (wired, {"action": "put", "board": "Board 0", "channel": 1}, "place: is missing"),
            (wired, {"action": "put", "place": "L1 femur", "board": "Board 9"}, "no board is called"),
            (wired, {"action": "put", "place": "L1 femur", "board": "Board 0", "channel": 99}, "has channels 0 to 15"),
            (wired, {"action": "put_limb", "limb": "tail", "board": "Board 0"}, "has no servo"),
            (wired, {"action": "calibrate", "item": "1"}, "two readings"),
            (wired, {"action": "replace", "item": "99"}, "no servo is numbered"),
            (wired, {"action": "seen", "place": "L1 femur", "saw": "another"}, "say which servo moved"),
            (wired, {"action": "mend", "place": "L1 femur"}, "nothing was seen wrong"),
            (wired, {"action": "step", "step": "dance"}, "must be one of map"),
            (wired, {"action": "dance"}, "action"),
        ):
            with self.subTest(words=words):
                answer = self.web.post("/api/electrics", json={"project": project, **body})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.text)

    @in_turns
    def test_files_of_a_saved_walker(self):
        walker = self.create(demo("sorrel"))["id"]
        for values in ("angles", "pulses", "ticks"):
            body = {"revision": 1, "motion": "Forward", "format": "csv", "values": values}
            answer = self.web.post(f"/api/walkers/{walker}/exports", json=body)
            self.assertEqual(answer.status_code, 200, answer.text[:200])
            unit = {"angles": "_deg", "pulses": "_us", "ticks": "_tick"}[values]
            self.assertTrue(next(csv.reader(io.StringIO(answer.text)))[1].endswith(unit))
        for name in ("evening", "wiring", "fitting", "protractor", "supply"):
            answer = self.web.get(f"/api/walkers/{walker}/sheets/{name}?paper=letter")
            self.assertEqual((answer.status_code, answer.data[:5]), (200, b"%PDF-"))
        self.assertEqual(self.web.get(f"/api/walkers/{walker}/sheets/dance").status_code, 422)
        check = self.web.post("/api/joint-check", json={"project": document(demo("sorrel")), "format": "json"})
        jsonschema.validate(check.json, self.web.get("/api/table-schema").json)

    @is_long
    def test_whatever_is_sent_to_the_bench(self):
        seed = FIXED if ALL else int(np.random.default_rng().integers(2**31))
        rng = np.random.default_rng(seed)
        values = document(on_boards(demo("sorrel")))
        odd = [None, True, -1, 0, 253, 1e308, "", "x" * 300, "<b>", [], {}, "FL knee", "Board 0", "1", "another"]
        fields = ("by", "place", "limb", "board", "channel", "kind", "item", "saw", "instead", "at", "table", "step")
        for _ in range(times(1000)):
            body = {"project": values, "action": ACTIONS[rng.integers(len(ACTIONS))]}
            for field in rng.choice(fields, int(rng.integers(0, 5)), replace=False):
                body[str(field)] = odd[rng.integers(len(odd))]
            answer = self.web.post("/api/electrics", json=body)
            told = {k: v for k, v in body.items() if k != "project"}
            self.assertIn(answer.status_code, (200, 422), f"seed {seed}: {told}: {answer.data[:300]!r}")
            draft = json.loads(json.dumps(values))
            group = draft["electrics"][str(rng.choice(["items", "boards", "seen", "signals", "banks"]))]
            if group:
                entry = group[int(rng.integers(len(group)))]
                entry[str(rng.choice(list(entry)))] = odd[rng.integers(len(odd))]
            for path in ("/api/bench", "/api/joint-check", "/api/evaluate"):
                body = {"project": draft} | ({"motion": "Forward"} if path.endswith("evaluate") else {})
                answer = self.web.post(path, json=body)
                self.assertIn(answer.status_code, (200, 422), f"seed {seed}: {path}: {answer.data[:300]!r}")


class Library(ApiTest):
    """Servo types kept for every walker; what is kept is never replaced without a word."""

    def keep(self, sheet, **more):
        return self.web.post("/api/library/servo-types", json={"sheet": sheet, **more})

    def kept(self):
        return self.web.get("/api/library/servo-types").json["servo_types"]

    def test_a_type_is_kept_replaced_with_its_hash_alone_and_taken_out(self):
        sheet = document(hexapod())["servo_types"][0]
        first = self.keep(sheet)
        self.assertEqual(first.status_code, 200, first.text)
        self.assertEqual(self.keep(sheet).json["hash"], first.json["hash"])
        stronger = sheet | {"stall_torque_nm": sheet["stall_torque_nm"] * 2}
        self.assert_problem(self.keep(stronger), 409, "is in the library already, with other numbers")
        self.assert_problem(self.keep(stronger, instead_of="0" * 64), 409, "Replace it")
        self.assertEqual([k["sheet"]["stall_torque_nm"] for k in self.kept()], [sheet["stall_torque_nm"]])
        told = self.keep(stronger).json["kept"]["hash"]
        self.assertEqual(self.keep(stronger, instead_of=told).status_code, 200)
        self.assertEqual([k["sheet"]["stall_torque_nm"] for k in self.kept()], [stronger["stall_torque_nm"]])
        address = f"/api/library/servo-types/{sheet['name']}"
        self.assertEqual(self.web.delete(address).status_code, 204)
        self.assertEqual(self.kept(), [])
        self.assert_problem(self.web.delete(address), 404, "is not in the library")

    def test_what_is_no_sheet_is_a_sentence_at_its_field(self):
        sheet = document(hexapod())["servo_types"][0]
        self.assert_problem(self.keep(sheet | {"stall_torque_nm": 0}), 422, "stall_torque_nm")
        self.assert_problem(self.keep({"name": "bare"}), 422, "is missing")
        self.assertEqual(self.kept(), [])
