"""The API at its door: jobs that work, and everything that must be refused with a sentence and without a trace."""

from __future__ import annotations

import hashlib
import io
import json
import unittest
from unittest import mock

import numpy as np

from bustle.core.document.file import load_project, save_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import VERSION, document
from bustle.core.walk.standing_polygon import standing
from bustle.formats import write_table
from bustle.web.application import create_app
from tests.long import ALL, in_turns, is_long, times
from tests.projects import changed, demo, hexapod, start
from tests.scratch import fresh_database
from tests.web.as_documented import DocumentedClient


def decode(data):
    """The buffer of `picture`, by its description."""
    length = int.from_bytes(data[:4], "little")
    head = json.loads(data[4 : 4 + length])
    floats = np.frombuffer(data, "<f4", offset=4 + length)
    arrays = {
        a["name"]: floats[a["offset"] : a["offset"] + int(np.prod(a["shape"]))].reshape(a["shape"])
        for a in head["arrays"]
    }
    return head, arrays


class ApiTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.app = create_app(fresh_database())
        cls.app.test_client_class = DocumentedClient
        cls.addClassCleanup(cls.app.extensions["store"].close)

    def setUp(self):
        self.web = self.app.test_client()

    def create(self, project=None):
        answer = self.web.post("/api/walkers", json={"project": document(project or hexapod())})
        self.assertEqual(answer.status_code, 201, answer.text)
        return answer.json

    def assert_problem(self, answer, status, words):
        self.assertEqual(answer.status_code, status, answer.text)
        self.assertEqual(answer.mimetype, "application/problem+json")
        self.assertIn(words, answer.json["detail"])
        self.assertEqual(answer.json["status"], status)
        self.assertNotIn("Traceback", answer.text)


class Jobs(ApiTest):
    @in_turns
    def test_a_walker_from_a_shape_saved_named_compared_and_returned_to(self):
        made = self.web.post("/api/walkers", json={"shape": "four_upright", "name": "Moss", "leg_length_mm": 150}).json
        project = made["project"]
        project["motions"][0]["lift_mm"] = 33.0
        address = f"/api/walkers/{made['id']}"
        saved = self.web.post(f"{address}/revisions", json={"parent": 1, "project": project})
        self.assertEqual((saved.status_code, saved.json["number"]), (201, 2))
        self.assertEqual(self.web.put(f"{address}/revisions/1/name", json={"name": "first"}).status_code, 204)
        lines = self.web.get(f"{address}/revisions").json["revisions"]
        self.assertEqual([(r["number"], r["name"]) for r in lines], [(2, None), (1, "first")])
        differing = self.web.get(f"{address}/revisions/1/differences?to=2").json["differences"]
        self.assertEqual([d["path"] for d in differing], ["motions Forward lift_mm"])
        back = self.web.get(f"{address}/revisions/1").json
        again = self.web.post(f"{address}/revisions", json={"parent": 2, "project": back["project"]}).json
        self.assertEqual((again["number"], again["hash"]), (3, made["hash"]))

    def verdict(self, walker: dict) -> dict:
        return self.web.get(f"/api/walkers/{walker['id']}/verdict").json

    def test_duplicate_put_away_and_put_back(self):
        made = self.create()
        copy = self.web.post(f"/api/walkers/{made['id']}/copies").json
        self.assertNotEqual(copy["project"]["name"], made["project"]["name"])
        self.web.put(f"/api/walkers/{copy['id']}/archive")
        shelf = self.web.get("/api/walkers").json["walkers"]
        away = self.web.get("/api/walkers?archived=true").json["walkers"]
        self.assertNotIn(copy["id"], [w["id"] for w in shelf])
        self.assertEqual([w["id"] for w in away], [copy["id"]])
        self.web.delete(f"/api/walkers/{copy['id']}/archive")
        self.assertIn(copy["id"], [w["id"] for w in self.web.get("/api/walkers").json["walkers"]])

    def test_the_shelf_weighs_every_walker_and_each_is_judged_by_all_its_motions(self):
        made = self.create(demo("sorrel"))
        entry = next(w for w in self.web.get("/api/walkers").json["walkers"] if w["id"] == made["id"])
        plans = [evaluate(demo("sorrel"), m.name) for m in demo("sorrel").motions]
        self.assertAlmostEqual(entry["mass_g"], plans[0].figure("mass_g"), places=6)
        severities = [f.severity for p in plans for f in p.findings]
        told = self.verdict(made)
        self.assertEqual((told["stops"], told["warns"]), (severities.count("stop"), severities.count("warn")))
        self.assertIn("Hose step", told["verdict"])
        # A copy is judged alike, and a newer revision anew.
        self.assertEqual(self.verdict(self.web.post(f"/api/walkers/{made['id']}/copies").json), told)
        sound = changed(demo("sorrel"), {"motions": document(demo("sorrel"))["motions"][:1]})
        self.web.post(f"/api/walkers/{made['id']}/revisions", json={"parent": 1, "project": document(sound)})
        self.assertEqual(self.verdict(made)["stops"], 0)
        self.assert_problem(self.web.get("/api/walkers/999999/verdict"), 404, "walker")

    def test_a_project_file_goes_out_and_comes_in_unchanged(self):
        made = self.create(demo("sorrel"))
        data = self.web.get(f"/api/walkers/{made['id']}/file").data
        self.assertEqual(data, save_project(demo("sorrel")))
        came = self.web.post("/api/files", data=data)
        self.assertEqual((came.status_code, came.json["hash"]), (201, made["hash"]))

    def test_evaluating_a_draft_gives_the_plan_and_stores_nothing(self):
        shelf = self.web.get("/api/walkers").json
        answer = self.web.post("/api/evaluate", json={"project": document(demo("sorrel")), "motion": "Forward"})
        head, arrays = decode(answer.data)
        plan = evaluate(demo("sorrel"), "Forward")
        e = plan.reading
        self.assertEqual(head["figures"][0]["value"], plan.figures[0].value)
        np.testing.assert_allclose(arrays["joints_deg"], np.degrees(e.angles), atol=1e-4)
        np.testing.assert_allclose(arrays["margin_mm"], e.of(standing).margin_mm[: e.samples], atol=1e-4)
        # In the travel frame the body stays put but for its sway.
        self.assertLess(np.ptp(arrays["frame"].mean(axis=1)[:, 0]), 80.0)
        self.assertTrue(all(np.isfinite(a).all() for a in arrays.values()))
        self.assertEqual(self.web.get("/api/walkers").json, shelf)

    def test_what_goes_wrong_once_it_is_drawn_is_told_in_its_stead(self):
        """Two parts, each with its length before it; a fault after the first is a problem like any other."""
        asked = {"project": document(demo("sorrel")), "motion": "Forward", "drawn_first": True}

        def parts():
            answer = self.web.post("/api/evaluate", json=asked)
            self.assertEqual(answer.status_code, 200)
            found, data = [], answer.data
            while data:
                length = int.from_bytes(data[:4], "little")
                found.append(data[4 : 4 + length])
                data = data[4 + length :]
            return found

        drawn, told = parts()
        self.assertIn("points", decode(drawn)[1])
        self.assertTrue(decode(told)[0]["whole"])
        spoiled = mock.patch("bustle.web.drawn.picture._told_arrays", side_effect=ZeroDivisionError)
        with spoiled, self.assertLogs(level="ERROR"):
            again, instead = parts()
        self.assertEqual(again, drawn)
        self.assertEqual(json.loads(instead)["status"], 500)
        self.assertIn("Nothing was changed", json.loads(instead)["detail"])
        # What is wrong with the draft is known before anything is drawn.
        self.assert_problem(self.web.post("/api/evaluate", json=asked | {"motion": "Gallop"}), 422, "Gallop")

    @in_turns
    def test_what_is_drawn_of_soles_and_wheels_reaches_the_floor_where_they_stand(self):
        for shape in ("two_wheels", "two_rocker", "two_servo", "two_full"):
            project = start(shape, "Drawn", 200.0)
            answer = self.web.post("/api/evaluate", json={"project": document(project), "motion": "Forward"})
            head, arrays = decode(answer.data)
            with self.subTest(shape=shape):
                self.assertEqual(sum(head["soles"]), arrays["soles"].shape[1])
                feet = [n for n, limb in enumerate(project.walker.limbs) if limb.feet[0].sole.kind != "point"]
                outlines = np.split(arrays["soles"], np.cumsum(head["soles"])[:-1], axis=1)
                self.assertEqual(len(outlines), len(feet))
                for limb, outline in zip(feet, outlines, strict=True):
                    low = outline[..., 2].min(axis=1)[arrays["contact"][:, limb] > 0]
                    self.assertGreater(len(low), 1)
                    # What swings its joints counts as down from 1 mm; of a curve that leans its spine is drawn.
                    off = {"two_servo": 1.0, "two_rocker": 3.0}.get(shape, 0.01)
                    np.testing.assert_allclose(low, 0.0, atol=off)

    @in_turns
    def test_numbers_that_are_still_typed_are_drawn_within_the_page_or_refused_by_name(self):
        own = {"family": "sprawled_3", "legs": 8, "placed": "round", "body": "round"}
        own |= {"body_mm": [150.0, 150.0, 40.0], "links_mm": [40.0, 60.0, 110.0]}
        for changes, words in (
            ({}, None),
            ({"legs": 3, "body_mm": [10.0, 10.0, 10.0], "links_mm": [0.0, 1.0, 1.0]}, None),
            ({"legs": 12, "body_mm": [1500.0, 1500.0, 1500.0], "links_mm": [1000.0, 1.0, 1000.0]}, None),
            ({"family": "upright_3", "placed": "sides", "body": "box"}, None),
            ({"legs": 5, "placed": "sides"}, "as many legs on each"),
            ({"links_mm": [40.0, 60.0]}, "must be 3 lengths"),
            ({"body_mm": [1600.0, 150.0, 40.0]}, "must be from 10 to 1500 mm"),
            ({"servo": "Nobody's"}, "own.servo: must be one of Micro servo, plastic gears"),
            ({"frame_g": 0.0}, "own.frame_g: must be from 10 to 50000 g, got 0"),
        ):
            with self.subTest(changes=changes):
                answer = self.web.post("/api/walkers/drawn", json={"own": own | changes})
                if words:
                    self.assert_problem(answer, 422, words)
                    continue
                drawn = answer.json
                self.assertEqual(len(drawn["limbs"]), (own | changes)["legs"])
                for line in (*drawn["body"], *drawn["limbs"]):
                    x, y = np.array(line).reshape(-1, 2).T
                    self.assertTrue(((x >= 0) & (x <= 120) & (y >= 0) & (y <= 84)).all())
                self.assertGreater(drawn["high_mm"], 0)

    @in_turns
    def test_what_stops_a_machine_at_any_stride_is_said_before_it_is_made(self):
        own = {"family": "sprawled_3", "placed": "round", "body": "round", "body_mm": [150.0, 150.0, 40.0]}
        for legs, coxa, words in (
            (6, 40.0, None),
            (3, 40.0, "to be in the air"),
            (12, 5.0, "body touch at 0 s"),
        ):
            asked = own | {"legs": legs, "links_mm": [coxa, 60.0, 110.0]}
            against = self.web.post("/api/walkers/drawn", json={"own": asked}).json["against"]
            with self.subTest(legs=legs):
                self.assertEqual(against is None, words is None)
                self.assertIn(words or "", against or "")

    def test_servos_and_weight_of_ones_own_are_judged_before_it_is_made_and_made(self):
        own = {"family": "sprawled_3", "legs": 6, "placed": "sides", "body": "box", "body_mm": [180.0, 110.0, 40.0]}
        own |= {"links_mm": [30.0, 60.0, 100.0], "servo": "Micro servo, plastic gears", "frame_g": 1500.0}
        weak = self.web.post("/api/walkers/drawn", json={"own": own}).json
        self.assertIn("it stalls at 0.15 N·m", weak["against"])
        own["servo"] = "Bus servo that reads back"
        drawn = self.web.post("/api/walkers/drawn", json={"own": own}).json
        self.assertEqual((drawn["against"], drawn["frame_g"], drawn["stall_nm"]), (None, 1500.0, 1.9))
        made = self.web.post("/api/walkers", json={"own": own}).json["project"]
        self.assertEqual([s["name"] for s in made["servo_types"]], ["Bus servo that reads back"])
        self.assertEqual(sum(m["mass_g"] for m in made["walker"]["masses"]), 1500.0)
        usual = self.web.post("/api/walkers/drawn", json={"own": own | {"servo": None, "frame_g": None}}).json
        self.assertNotEqual((usual["frame_g"], usual["stall_nm"]), (1500.0, 1.9))

    @in_turns
    def test_four_legs_by_own_numbers_trot_as_a_dry_run_lets_them(self):
        """In the cycle and with the duty of the shelf's proportions these come down on the foot in the air."""
        own = {"family": "upright_2", "placed": "round", "body": "box", "body_mm": [193.0, 193.0, 98.0], "legs": 4}
        own["links_mm"] = [32.0, 127.0, 131.0]
        made = self.web.post("/api/walkers", json={"own": own, "name": "Oxlip"}).json["project"]
        self.assertEqual(made["name"], "Oxlip")
        trot = next(m for m in made["motions"] if m["name"] == "Trot")
        self.assertTrue(trot["cycle_s"] < 0.8 or trot["legs"][0]["duty"] > 0.6)
        self.assertLessEqual({"Start", "Stop", "Start trot", "Stop trot"}, {m["name"] for m in made["motions"]})

    def test_remedies_of_a_draft_come_with_the_project_they_make(self):
        body = {"project": document(demo("sorrel")), "motion": "Hose step", "finding": {"code": "F18"}}
        found = self.web.post("/api/remedies", json=body).json["remedies"]
        self.assertTrue(found)
        mended = self.web.post("/api/evaluate", json={"project": found[0]["project"], "motion": "Hose step"})
        self.assertEqual([f for f in decode(mended.data)[0]["findings"] if f["code"] == "F18"], [])

    def test_an_export_is_recorded_with_its_revision_and_hash(self):
        made = self.create(demo("fennel"))
        address = f"/api/walkers/{made['id']}/exports"
        for format_name in ("csv", "c"):
            body = {"revision": 1, "motion": "Turn left", "format": format_name, "decimals": 2}
            answer = self.web.post(address, json=body)
            plan = evaluate(demo("fennel"), "Turn left")
            self.assertEqual(answer.data, write_table(plan, format_name, 2, revision=1))
            line = self.web.get(address).json["exports"][0]
            self.assertEqual(line["sha256"], hashlib.sha256(answer.data).hexdigest())
            self.assertEqual((line["revision"], line["format"]), (1, format_name))

    def test_a_sound_band_contains_a_sound_value(self):
        body = {"project": document(hexapod()), "motion": "Forward", "lever": "lift", "low": 0, "high": 80}
        ranges = self.web.post("/api/sound-band", json=body).json["ranges"]
        lift = hexapod().motions[0].lift_mm
        self.assertTrue(any(a <= lift <= b for a, b in ranges))

    def test_a_gait_gives_its_phases_to_these_legs(self):
        answer = self.web.post("/api/phases", json={"project": document(hexapod()), "gait": "wave"}).json
        self.assertEqual(sorted(round(p * 6) for p in answer["phases"]), [0, 1, 2, 3, 4, 5])


class TwoWindows(ApiTest):
    def test_a_stale_save_gets_409_with_what_differs_and_the_merge(self):
        made = self.create()
        address = f"/api/walkers/{made['id']}/revisions"
        theirs = document(changed(hexapod(), {"motions/0/cycle_s": 1.4}))
        mine = document(changed(hexapod(), {"motions/0/lift_mm": 31.0}))
        self.assertEqual(self.web.post(address, json={"parent": 1, "project": theirs}).status_code, 201)
        answer = self.web.post(address, json={"parent": 1, "project": mine})
        self.assert_problem(answer, 409, "Another window saved revision 2")
        merged = answer.json["merged"]
        self.assertEqual([d["path"] for d in merged["mine"]], ["motions Forward lift_mm"])
        self.assertEqual([d["path"] for d in merged["theirs"]], ["motions Forward cycle_s"])
        self.assertEqual(answer.json["saved"]["number"], 2)
        again = self.web.post(address, json={"parent": 2, "project": merged["project"]}).json
        self.assertEqual(again["number"], 3)
        motion = again["project"]["motions"][0]
        self.assertEqual((motion["cycle_s"], motion["lift_mm"]), (1.4, 31.0))


class Refusals(ApiTest):
    def test_bad_projects_are_refused_with_the_field_and_store_nothing(self):
        made = self.create()
        before = len(self.web.get("/api/walkers").json["walkers"])
        for path, value, words in (
            ("motions/0/lift_mm", "high", "motions[0].lift_mm: must be a number"),
            ("motions/0/lift_mm", -1, "motions[0].lift_mm: must be at least 0"),
            ("walker/limbs/1/name", "L1", "two legs are called 'L1'"),
            ("walker/limbs/1/links/2/length_mm", 0, "walker.limbs[1].links[2].length_mm: must be above 0"),
            ("name", "<img src=x onerror=alert(1)>", "name: must be plain text without markup"),
            ("version", VERSION + 1, f"version: must be {VERSION}, got {VERSION + 1}"),
            ("motions/0/legs", [], "motions[0].legs: leg L1 has no phase and duty"),
        ):
            values = document(hexapod())
            *way, last = [int(p) if p.isdigit() else p for p in path.split("/")]
            target = values
            for part in way:
                target = target[part]
            target[last] = value
            with self.subTest(path=path):
                for address, body in (
                    ("/api/walkers", {"project": values}),
                    ("/api/evaluate", {"project": values, "motion": "Forward"}),
                    (f"/api/walkers/{made['id']}/revisions", {"parent": 1, "project": values}),
                ):
                    self.assert_problem(self.web.post(address, json=body), 422, words)
                file = self.web.post("/api/files", data=json.dumps(values))
                self.assertEqual(file.status_code, 422)
        self.assertEqual(len(self.web.get("/api/walkers").json["walkers"]), before)
        self.assertEqual(len(self.web.get(f"/api/walkers/{made['id']}/revisions").json["revisions"]), 1)

    def test_bodies_that_are_no_request(self):
        for data, status, words in (
            (b'{"project": {"name": NaN}}', 422, "name: must be text, got nan"),
            (b'{"motion": "a", "motion": "b"}', 422, "appears twice"),
            (b'{"motion": ', 422, "breaks off"),
            (b"[1, 2]", 422, "group of fields"),
            (b"null", 422, "group of fields"),
            (b"[" * 50_000, 422, "nests deeper"),
            (b"\xff\xfe", 422, "UTF-8"),
            (b"", 422, "breaks off"),
        ):
            with self.subTest(data=data[:30]):
                answer = self.web.post("/api/evaluate", data=data, content_type="application/json")
                self.assert_problem(answer, status, words)
        self.assert_problem(self.web.post("/api/evaluate", data="a=1"), 415, "application/json")

    def test_nan_is_named_by_its_field(self):
        data = json.dumps({"project": document(hexapod()), "motion": "Forward"})
        data = data.replace('"cycle_s": 1.2', '"cycle_s": NaN', 1)
        answer = self.web.post("/api/evaluate", data=data, content_type="application/json")
        self.assert_problem(answer, 422, "motions[0].cycle_s: must be a finite number")

    def test_a_50_mb_file_is_refused_and_the_server_goes_on(self):
        answer = self.web.post("/api/files", data=io.BytesIO(b" " * 50_000_000))
        self.assert_problem(answer, 413, "50 MB")
        self.assertEqual(self.web.get("/api/health").status_code, 200)

    def test_what_is_not_there(self):
        made = self.create()
        draft = {"project": document(hexapod()), "motion": "Gallop"}
        self.assert_problem(self.web.post("/api/evaluate", json=draft), 422, "no motion is called 'Gallop'")
        export = {"revision": 1, "motion": "Gallop", "format": "csv"}
        self.assert_problem(self.web.post(f"/api/walkers/{made['id']}/exports", json=export), 422, "no motion")
        export = {"revision": 9, "motion": "Forward", "format": "csv"}
        self.assert_problem(self.web.post(f"/api/walkers/{made['id']}/exports", json=export), 404, "no revision 9")
        export = {"revision": 1, "motion": "Forward", "format": "stone"}
        self.assert_problem(
            self.web.post(f"/api/walkers/{made['id']}/exports", json=export), 422, "format: must be one of"
        )
        export = {"revision": 1, "motion": "Forward", "format": "csv", "decimals": 40}
        self.assert_problem(self.web.post(f"/api/walkers/{made['id']}/exports", json=export), 422, "decimals")
        for address in ("/api/walkers/99999", "/api/walkers/99999/file", f"/api/walkers/{made['id']}/revisions/77"):
            self.assert_problem(self.web.get(address), 404, "no")
        self.assert_problem(self.web.get("/api/nothing/here"), 404, "nothing at this address")
        self.assert_problem(self.web.get(f"/api/walkers/{10**30}"), 422, "walker_id")
        self.assert_problem(self.web.post("/api/health"), 405, "method")
        self.assert_problem(
            self.web.post("/api/walkers", json={"shape": "eight_wheels", "leg_length_mm": 100}), 422, "shape"
        )
        self.assert_problem(
            self.web.post("/api/walkers", json={"shape": "six_upright"}), 422, "leg_length_mm: is missing"
        )
        body = {"shape": "six_upright", "leg_length_mm": 9000}
        self.assert_problem(self.web.post("/api/walkers", json=body), 422, "leg_length_mm: must be from 60 to 600")

    def test_a_project_without_motions_can_be_kept_and_says_so(self):
        made = self.create(changed(hexapod(), {"motions": []}))
        self.assert_problem(self.web.get(f"/api/walkers/{made['id']}/plan"), 422, "no motion yet")
        self.assertEqual(self.web.get(f"/api/walkers/{made['id']}/verdict").json["verdict"], "No motion yet")

    def test_foreign_hosts_and_origins_are_refused(self):
        for headers, status in (
            ({"Host": "walkers.example"}, 421),
            ({"Host": "127.0.0.1.example:8737"}, 421),
            ({"Host": ""}, 421),
            ({"Host": "localhost:8737", "Origin": "http://walkers.example"}, 403),
            ({"Host": "localhost:8737", "Origin": "null"}, 403),
            ({"Host": "localhost:8737", "Origin": "http://localhost:9999"}, 403),
            ({"Host": "localhost:8737", "Sec-Fetch-Site": "cross-site"}, 403),
            ({"Host": "localhost:8737", "Origin": "http://localhost:8737"}, 200),
            ({"Host": "[::1]:8737"}, 200),
        ):
            with self.subTest(headers=headers):
                self.assertEqual(self.web.get("/api/walkers", headers=headers).status_code, status)

    def test_every_answer_carries_the_strict_policy(self):
        for address in ("/", "/api/walkers", "/api/nothing", "/walkers/1/balance"):
            policy = self.web.get(address).headers["Content-Security-Policy"]
            self.assertIn("default-src 'none'", policy)
            self.assertNotIn("unsafe", policy)

    def test_no_address_reaches_outside_the_interface(self):
        for address in ("/../pyproject.toml", "/%2e%2e/pyproject.toml", "/assets/../../package.json", "/.stamp"):
            self.assertNotIn("[project]", self.web.get(address).text)
            self.assertNotIn("dependencies", self.web.get(address).text)


FIXED = 20260


class Fuzz(ApiTest):
    """Whatever is put in place of any value of a project, the answer is a plan or a problem, never a 500."""

    @is_long
    def test_any_field_replaced_by_anything(self):
        # All of them are the same ones every time.
        seed = FIXED if ALL else int(np.random.default_rng().integers(2**31))
        rng = np.random.default_rng(seed)
        values = document(demo("sorrel"))
        odd = [None, True, -1, 0, 1e308, float("nan"), "", "x" * 5000, "<b>", [], {}, [1], {"name": 1}, 1e-300, 359.9]
        for _ in range(times(5000)):
            draft = json.loads(json.dumps(values))
            place, key = draft, None
            while isinstance(place, (dict, list)) and place:
                parent = place
                key = (
                    list(place)[rng.integers(len(place))] if isinstance(place, dict) else int(rng.integers(len(place)))
                )
                place = place[key]
                if rng.random() < 0.15:
                    break
            parent[key] = odd[rng.integers(len(odd))]
            answer = self.web.post("/api/evaluate", json={"project": draft, "motion": "Forward"})
            self.assertIn(
                answer.status_code, (200, 422), f"seed {seed}: {key} = {parent[key]!r}: {answer.data[:300]!r}"
            )
            if answer.status_code == 200:
                arrays = decode(answer.data)[1]
                self.assertTrue(all(np.isfinite(a).all() for a in arrays.values()), f"seed {seed}: {key}")
                load_project(json.dumps(draft))
