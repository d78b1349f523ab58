"""Motions made of motions, for the tests, and whether one joins what it should."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document


def with_motions(project, *motions):
    values = document(project)
    values["motions"] += motions
    return parse_project(values)


def transition(name, start_of, start_phase, end_of, end_phase, **more):
    return {
        "kind": "transition",
        "name": name,
        "start": {"motion": start_of, "phase": start_phase},
        "end": {"motion": end_of, "phase": end_phase},
        **more,
    }


def programme(name, *parts, **more):
    keys = ("motion", "amount", "by")
    return {"kind": "programme", "name": name, "parts": [dict(zip(keys, p, strict=True)) for p in parts], **more}


def twist_of(project, name):
    twist = project.motion(name).twist
    return twist.vx_mm_s, twist.vy_mm_s, np.radians(twist.omega_deg_s)


def joins(project, name, one, p, other, q):
    """A transition begins as `one` is at its phase p and ends as `other` is at q: places and speeds."""
    plan = evaluate(project, name, 3001)
    score = plan.reading.score
    before, after = (evaluate(project, motion, 400).reading.score for motion in (one, other))
    step = 1e-5
    end = score.duration_s
    first = state(score, np.array([0.0, step]))
    last = state(score, np.array([end - step, end - 1e-12]))
    left = state(before, np.array([p, p]) * before.duration_s + [0.0, step])
    joined = state(after, np.array([q, q]) * after.duration_s + [-step, 0.0])
    for here, there in ((first, left), (last, joined)):
        np.testing.assert_allclose(here[:, 0 if here is first else 1], there[:, 0 if here is first else 1], atol=2e-3)
        np.testing.assert_allclose(np.diff(here, axis=1), np.diff(there, axis=1), atol=3e-3)


def state(score, t):
    """Feet and body as seen from the travel frame at each time: (numbers, T)."""
    x, y, theta = score.body(t).travel
    c, s = np.cos(theta), np.sin(theta)

    def seen(points):
        dx, dy = points[..., 0] - x, points[..., 1] - y
        return np.stack([c * dx + s * dy, -s * dx + c * dy, points[..., 2]], axis=-1)

    feet = np.moveaxis(seen(score.feet_at(t)[0]), 1, -1).reshape(-1, len(t))
    body = score.body(t)
    turn = np.einsum("sab,sbc->sac", np.stack([np.array([[c, s, 0 * c], [-s, c, 0 * c], [0 * c, 0 * c, 1 + 0 * c]])
                     ]).transpose(3, 0, 1, 2)[:, 0], body.turn)  # fmt: skip
    return np.concatenate([feet, seen(body.at).T, np.moveaxis(turn, 0, -1).reshape(9, -1)])
