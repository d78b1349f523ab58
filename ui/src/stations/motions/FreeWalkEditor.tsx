/** A walk by the next-leg rule: whose steps it makes, and which way it goes from when on. */
import { useEffect, useState } from "react";
import { fetched, isGait, type MotionOf, type Project, type Schemas } from "@/api/client";
import { editKind } from "@/bench/store";
import { Fold } from "@/controls/Fold";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { MotionSelect } from "./MotionSelect";

type FreeWalk = MotionOf<"free_walk">;

const AXES = [
  ["vx_mm_s", "forward", "mm/s", 3000, 5],
  ["vy_mm_s", "left", "mm/s", 3000, 5],
  ["omega_deg_s", "turn left", "°/s", 720, 1],
] as const;

export function FreeWalkEditor({ project, motion }: { project: Project; motion: FreeWalk }) {
  const put = (change: (m: FreeWalk) => void) => editKind("free_walk", change);
  return (
    <fieldset className="made-of">
      <legend>Legs lift by the rule, as the way changes</legend>
      <MotionSelect
        label="Steps like"
        value={motion.like}
        project={project}
        which={(m) => isGait(m) && m.legs.every((l) => l.duty < 1)}
        onName={(name) =>
          put((m) => {
            m.like = name;
          })
        }
      />
      <NumberBox
        label="Takes"
        value={motion.takes_s ?? 10}
        unit="s"
        step={1}
        min={0.5}
        max={120}
        onValue={(v) =>
          put((m) => {
            m.takes_s = v;
          })
        }
      />
      <ol className="ways">
        {motion.ways.map((way, n) => (
          <li key={way.from_s}>
            <NumberBox
              label="from"
              value={way.from_s}
              unit="s"
              step={0.1}
              min={n ? motion.ways[n - 1].from_s + 0.01 : 0}
              max={n + 1 < motion.ways.length ? motion.ways[n + 1].from_s - 0.01 : 600}
              onValue={(v) =>
                put((m) => {
                  m.ways[n].from_s = v;
                })
              }
            />
            {AXES.map(([axis, label, unit, most, step]) => (
              <NumberBox
                key={axis}
                label={label}
                value={way.twist?.[axis] ?? 0}
                unit={unit}
                step={step}
                min={-most}
                max={most}
                onValue={(v) =>
                  put((m) => {
                    m.ways[n].twist = { ...m.ways[n].twist, [axis]: v } as Schemas["Twist"];
                  })
                }
              />
            ))}
            <Remove
              label={`Way ${n + 1}: remove`}
              disabled={motion.ways.length < 2}
              onRemove={() =>
                put((m) => {
                  m.ways.splice(n, 1);
                })
              }
            />
          </li>
        ))}
      </ol>
      <button
        type="button"
        className="do"
        disabled={motion.ways.length >= 400}
        onClick={() =>
          put((m) => {
            const last = m.ways[m.ways.length - 1];
            m.ways.push({ from_s: last.from_s + 2, twist: { ...last.twist } as Schemas["Twist"] });
          })
        }
      >
        Add a way
      </button>
      <Rule />
    </fieldset>
  );
}

/** The rule, line by line, for whoever writes the small controller. */
function Rule() {
  const [rule, setRule] = useState<string[]>([]);
  useEffect(() => {
    void fetched("/api/lifting-rule")
      .then((answer) => answer.json())
      .then((found: Schemas["Rule"]) => setRule(found.rule))
      .catch(() => setRule([]));
  }, []);
  return (
    <Fold name="The rule">
      <ol className="rule">
        {rule.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
    </Fold>
  );
}
