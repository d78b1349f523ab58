"""Forms made from the project's own models: their bounds are those that the document is held to."""

from __future__ import annotations

import json
import sys
from typing import Annotated, Any

from pydantic import TypeAdapter, ValidationError

from bustle.core.project import project as project_module
from bustle.core.project.field_types import Value
from bustle.core.starting.starting_walkers import SHAPES
from bustle.web.said.form_fields import forms
from tests.long import is_long, share
from tests.projects import ROOT, demo
from tests.seeded import SeededTest

sys.path.insert(0, str(ROOT / "scripts"))


def models() -> dict[str, type[Value]]:
    found: dict[str, type[Value]] = {}
    rest: list[type[Value]] = [Value]
    while rest:
        for model in rest.pop().__subclasses__():
            found[model.__name__] = model
            rest.append(model)
    return found


def taken(model: type[Value], name: str, value: Any) -> bool:
    info = model.model_fields[name]
    kind = Annotated[(info.annotation, *info.metadata)] if info.metadata else info.annotation
    try:
        TypeAdapter(kind).validate_python(value)
    except ValidationError:
        return False
    return True


class Forms(SeededTest):
    def test_every_number_is_taken_within_its_ends_and_refused_beyond(self):
        known, counted = models(), 0
        for name, fields in forms().items():
            for field in fields:
                if field.kind not in ("number", "whole"):
                    continue
                counted += 1
                whole = field.kind == "whole"
                low, high = field.low, field.high
                self.assertIsNotNone(high, f"{name}.{field.name}")
                least = -1e9 if low is None else low
                inside = float(self.random.uniform(least, high))
                for value, good in ((inside, True), (high + 1, False), (least - 1, low is None)):
                    given = round(value) if whole else value
                    if whole and good and field.above:
                        continue
                    self.assertEqual(taken(known[name], field.name, given), good, f"{name}.{field.name} {given}")
                if field.above and low is not None and not whole:
                    self.assertFalse(taken(known[name], field.name, low) and taken(known[name], field.name, high))
                self.assertEqual(taken(known[name], field.name, None), field.optional)
        self.assertGreater(counted, 90)

    def test_every_part_of_a_project_can_be_drawn(self):
        """What a form would draw of a demo is there, down to the last number."""
        known = forms()

        def walk(of: str, value: dict[str, Any]) -> int:
            fields = {f.name: f for f in known[of]}
            self.assertEqual(set(fields), set(value), of)
            seen = 0
            for name, part in value.items():
                field = fields[name]
                entries = part if field.kind == "forms" else [part] if field.kind in ("form", "either") else []
                for entry in entries:
                    if entry is not None:
                        seen += walk(field.kinds.get(entry.get("kind", "")) or field.of, entry)
                if field.kind == "numbers" and part is not None:
                    self.assertEqual(len(part), len(field.parts), f"{of}.{name}")
                seen += field.kind in ("number", "whole", "numbers")
            return seen

        self.assertGreater(walk("Project", project_module.document(demo("fennel"))), 400)

    @is_long
    def test_the_drawings_of_shapes_and_legs_are_current(self):
        from draw_shapes import FILE, drawings

        drawn = json.loads(FILE.read_text())
        self.assertEqual(list(drawn["shapes"]), list(SHAPES))
        names = share(self.random, list(SHAPES), 4)
        found = json.loads(drawings(names))
        drawn["shapes"] = {name: drawn["shapes"][name] for name in names}
        self.assertEqual(drawn, found, "run scripts/draw_shapes.py")
