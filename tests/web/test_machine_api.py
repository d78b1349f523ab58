"""The clamp, comparisons, frame edits, parts and URDF over HTTP, and their refusals."""

from __future__ import annotations

from bustle.core.project.project import document
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.long import in_turns
from tests.projects import hexapod, start
from tests.web.test_api import ApiTest


class Machine(ApiTest):
    def post(self, path, body):
        return self.web.post(path, json=body)

    def draft(self, **more):
        return {"project": document(hexapod()), **more}

    def test_the_clamp_answers_with_joints_reach_and_working(self):
        foot = [0.0, 154.0, -72.0]
        found = self.post("/api/clamp", self.draft(limb="L2", foot_mm=foot, views=["front"])).json
        self.assertEqual([j["name"] for j in found["joints"]], ["yaw", "femur", "tibia"])
        self.assertEqual([s["plane"] for s in found["slices"]], ["front"])
        self.assertGreater(found["slices"][0]["edge_mm"], 10)
        self.assertEqual(found["steps"][0]["symbol"], "x")
        for place in (found["foot"], found["target"]):
            for a, b in zip(place, foot, strict=True):
                self.assertAlmostEqual(a, b, places=3)

    def test_refusals_name_the_field(self):
        foot = [0.0, 154.0, -72.0]
        for path, body, words in (
            ("/api/clamp", self.draft(limb="Q9", foot_mm=foot), "limb: no leg is called 'Q9'"),
            ("/api/clamp", self.draft(limb="L2", foot_mm=[0.0, 1e9, 0.0]), "foot_mm[1]: must be at most 3000"),
            ("/api/clamp", self.draft(limb="L2", foot_mm=["a", 1.0, 0.0]), "foot_mm[0]: must be a number"),
            ("/api/straight", self.draft(limb="L2", foot_mm=foot, line="round", length_mm=60.0), "line: must be"),
            ("/api/straight", self.draft(limb="L2", foot_mm=foot, line="mixed", length_mm=0.0), "must be above 0"),
            (
                "/api/straight",
                self.draft(limb="L2", foot_mm=foot, line="mixed", length_mm=9.0, joint_zero_deg={"elbow": 1.0}),
                "leg L2 has yaw, femur, tibia",
            ),
            ("/api/drift", self.draft(limb="L2"), "needs readings at two heights"),
            ("/api/rivals", self.draft(rivals=[{}]), "rivals[0]: names a walker, or a starting shape"),
            ("/api/rivals", self.draft(rivals=[{"shape": "hover", "leg_length_mm": 200.0}]), "shape: must be one of"),
            ("/api/frame", self.draft(action="mirror", limb="Q9"), "no limb is called 'Q9'"),
            ("/api/frame", self.draft(action="fly"), "action: must be"),
            ("/api/frame", self.draft(action="relabel", scheme="stars"), "scheme: must be one of"),
        ):
            answer = self.post(path, body)
            with self.subTest(words=words):
                self.assertEqual(answer.status_code, 422, answer.json)
                self.assertIn(words, answer.json["detail"])

    @in_turns
    def test_every_leg_of_every_shape_can_be_clamped_anywhere(self):
        """Out of reach, on the axis, inside the frame: always an answer, never a NaN."""
        for shape in ("six_sprawled", "four_upright_2", "two_full", "two_parallelogram", "two_servo", "two_rocker"):
            project = start(shape, "Clamp", 180.0)
            limb = project.walker.legs[0]
            mount = list(limb.mount.at_mm)
            for foot in (mount, [0.0, 0.0, 0.0], [2999.0, 0.0, 0.0], [mount[0], mount[1], mount[2] - 1e-9]):
                body = {"project": document(project), "limb": limb.name, "foot_mm": foot, "views": []}
                answer = self.post("/api/clamp", body)
                self.assertEqual(answer.status_code, 200, f"{shape} {answer.json}")
                self.assertNotIn("NaN", answer.text)

    def test_a_frame_edit_gives_the_whole_draft_and_what_differs(self):
        found = self.post("/api/frame", self.draft(action="remove", limb="R1")).json
        self.assertEqual(len(found["project"]["walker"]["limbs"]), 5)
        self.assertTrue(any("R1" in d["path"] for d in found["differences"]))

    def test_parts_and_urdf_of_a_saved_walker(self):
        walker = self.web.post("/api/walkers", json={"shape": "six_sprawled", "name": "Wort", "leg_length_mm": 200.0})
        number = walker.json["id"]
        listing = self.web.get(f"/api/walkers/{number}/parts")
        self.assertEqual(listing.headers["Content-Type"].split(";")[0], "text/csv")
        self.assertIn("Battery,mass,1,160,22", listing.text)
        out = self.web.get(f"/api/walkers/{number}/urdf").json
        self.assertEqual(out["file_name"], "wort.urdf")
        self.assertTrue(any("Play" in line for line in out["lost"]))
        model = self.web.get(f"/api/walkers/{number}/mjcf").json
        self.assertEqual(model["file_name"], "wort.mjcf.xml")
        self.assertIn('<key name="Forward"', model["text"])
        read = self.web.post("/api/urdf", data=out["text"].encode(), content_type="application/octet-stream")
        self.assertEqual(read.status_code, 201, read.json)
        again = self.web.get(f"/api/walkers/{read.json['id']}").json["project"]
        self.assertEqual([m["name"] for m in again["walker"]["limbs"]], ["L1", "L2", "L3", "R1", "R2", "R3"])

    def test_bad_urdf_is_refused_and_nothing_stored(self):
        before = len(self.web.get("/api/walkers").json["walkers"])
        for data in (
            b"",
            b"\x00\xff",
            b"<robot",
            b"<!DOCTYPE a><robot/>",
            write_urdf(hexapod()).data[:900],
            b"<a>" * 9999,
        ):
            answer = self.web.post("/api/urdf", data=data, content_type="application/octet-stream")
            self.assertEqual(answer.status_code, 422, data[:20])
            self.assertTrue(answer.json["detail"].endswith("."))
        self.assertEqual(len(self.web.get("/api/walkers").json["walkers"]), before)
