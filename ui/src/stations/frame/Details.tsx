/** The finer parts of a limb: what its links weigh and cost, a free chain's axes and offsets, joints that are held, and
 * the sections of the frame. */
import Form from "react-bootstrap/Form";
import type { Limb, Motion, Project } from "@/api/client";
import { endsOf, limbOf } from "@/bench/edits";
import { edit, editMotion } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";

const LINK_FIELDS = [
  ["mass_g", "mass", "g"],
  ["radius_mm", "radius", "mm"],
  ["price", "price", ""],
  ["print_h", "print", "h"],
] as const;

export function LinkDetails({ limb, alike }: { limb: Limb; alike: boolean }) {
  if (!limb.links.length) return null;
  return (
    <details className="fold">
      <summary>Links: mass, thickness, price</summary>
      {limb.links.map((link) => (
        <fieldset key={link.name} className="number-grid four">
          <legend>{link.name}</legend>
          {LINK_FIELDS.map(([field, label, unit]) => (
            <NumberBox
              key={field}
              label={label}
              value={link[field]}
              unit={unit}
              step={field === "radius_mm" ? 0.5 : 1}
              min={0}
              max={field === "radius_mm" ? 200 : 10000}
              onValue={(v) =>
                edit((draft) => {
                  for (const other of draft.walker.limbs)
                    if (other.name === limb.name || (alike && other.family === limb.family))
                      for (const part of other.links) if (part.name === link.name) part[field] = v;
                }, true)
              }
            />
          ))}
        </fieldset>
      ))}
    </details>
  );
}

/** Axes and offsets, as measured at zero pose. */
export function FreeChain({ limb }: { limb: Limb }) {
  const own = (draft: Project) => limbOf(draft, limb.name);
  const add = () =>
    edit((draft) => {
      const found = own(draft);
      if (!found) return;
      const n = found.joints.length + 1;
      const [joint, link] = [`joint${n}`, `link${n}`];
      found.joints.push({ name: joint, kind: "hinge", min_deg: -60, max_deg: 60, axis: [0, 1, 0], free: false });
      found.links.push({
        name: link,
        length_mm: 40,
        mass_g: 0,
        offset_mm: [40, 0, 0],
        radius_mm: 6,
        price: 0,
        print_h: 0,
      });
      draft.walker.drives.push({
        kind: "direct",
        servos: [{ name: `${limb.name} ${joint}`, type: draft.servo_types[0].name, centre_deg: 0, sits_on: null }],
        joints: [`${limb.name}/${joint}`],
        settings: {},
        stiffness_nm_deg: null,
      });
    }, true);
  return (
    <fieldset className="masses">
      <legend>Axes and offsets at zero</legend>
      {limb.joints.map((joint, n) => (
        <div key={joint.name} className="chain-row">
          <b>{joint.name}</b>
          {(["axis", "offset"] as const).map((what) => {
            const values = (what === "axis" ? joint.axis : limb.links[n]?.offset_mm) ?? [0, 0, 0];
            return (
              <span key={what} className="mass-at">
                <span className="axis">{what}</span>
                {values.map((value, k) => (
                  <NumberBox
                    // The three directions keep their order.
                    key={["x", "y", "z"][k]}
                    quiet
                    label={`${joint.name}, ${what} ${["forward", "left", "up"][k]}`}
                    value={value}
                    unit=""
                    step={what === "axis" ? 0.1 : 1}
                    min={-2000}
                    max={2000}
                    onValue={(v) =>
                      edit((draft) => {
                        const found = own(draft);
                        if (!found) return;
                        if (what === "axis") {
                          const axis = found.joints[n].axis;
                          if (axis) axis[k] = v;
                        } else {
                          const link = found.links[n];
                          if (!link.offset_mm) return;
                          link.offset_mm[k] = v;
                          link.length_mm = Math.round(Math.hypot(...link.offset_mm) * 100) / 100;
                        }
                      }, true)
                    }
                  />
                ))}
              </span>
            );
          })}
        </div>
      ))}
      {limb.joints.length < 7 && (
        <button type="button" className="do mt-1" onClick={add}>
          Add a joint
        </button>
      )}
    </fieldset>
  );
}

/** Where the joints of a limb that does not step are held in this motion. */
export function Held({ limb, motion }: { limb: Limb; motion: Motion }) {
  const value = (joint: string) => motion.joints.find((a) => a.limb === limb.name && a.joint === joint)?.value ?? 0;
  return (
    <fieldset className="number-grid">
      <legend>Held in {motion.name}</legend>
      {limb.joints.map((joint) => (
        <NumberBox
          key={joint.name}
          label={`${joint.name}, held at`}
          value={value(joint.name)}
          unit={endsOf(joint).unit}
          step={1}
          min={endsOf(joint).low}
          max={endsOf(joint).high}
          onValue={(v) =>
            editMotion((m) => {
              m.joints = m.joints.filter((a) => a.limb !== limb.name || a.joint !== joint.name);
              m.joints.push({ limb: limb.name, joint: joint.name, value: v });
            }, true)
          }
        />
      ))}
    </fieldset>
  );
}

interface PlaceProps {
  title: string;
  value: [number, number, number];
  onValue: (axis: number, value: number) => void;
}

/** A point in three numbers under one heading. */
function Place({ title, value, onValue }: PlaceProps) {
  return (
    <fieldset className="number-grid links within">
      <legend>{title}</legend>
      {(["forward", "left", "up"] as const).map((axis, k) => (
        <NumberBox
          key={axis}
          label={axis}
          value={value[k]}
          unit="mm"
          step={1}
          min={-2000}
          max={2000}
          onValue={(v) => onValue(k, v)}
        />
      ))}
    </fieldset>
  );
}

/** Sections of the frame on hinges, how far each is bent in this motion, and what holds the walker from outside. */
export function Sections({ project, motion, limb }: { project: Project; motion: Motion; limb: Limb }) {
  const { sections, held } = project.walker;
  const bend = (name: string) => motion.pose.bends.find((b) => b.section === name)?.angle_deg ?? 0;
  return (
    <details className="fold">
      <summary>Frame sections and boom</summary>
      {sections.map((section, n) => (
        <fieldset key={section.name} className="number-grid links">
          <legend>{section.name}</legend>
          {(["long", "wide", "high"] as const).map((axis, k) => (
            <NumberBox
              key={axis}
              label={axis}
              value={section.size_mm[k]}
              unit="mm"
              step={1}
              min={0}
              max={2000}
              onValue={(v) =>
                edit((draft) => {
                  draft.walker.sections[n].size_mm[k] = v;
                }, true)
              }
            />
          ))}
          {section.hinge &&
            (["at_mm", "to_mm"] as const).map((end) => (
              <Place
                key={end}
                title={
                  end === "at_mm" ? `its hinge, from the middle of ${section.hinge?.on}` : "its middle, from the hinge"
                }
                value={section.hinge?.[end] ?? [0, 0, 0]}
                onValue={(k, v) =>
                  edit((draft) => {
                    const hinge = draft.walker.sections[n].hinge;
                    if (hinge) hinge[end][k] = v;
                  }, true)
                }
              />
            ))}
          {section.hinge && (
            <NumberBox
              label={`bent in ${section.hinge.axis}`}
              value={bend(section.name)}
              unit="°"
              step={1}
              min={section.hinge.min_deg}
              max={section.hinge.max_deg}
              onValue={(v) =>
                editMotion((m) => {
                  m.pose.bends = m.pose.bends.filter((b) => b.section !== section.name);
                  m.pose.bends.push({ section: section.name, angle_deg: v });
                }, true)
              }
            />
          )}
        </fieldset>
      ))}
      {sections.length > 1 && (
        <Form.Group controlId="on-section" className="inline-select">
          <Form.Label>{limb.name} hangs on</Form.Label>
          <Form.Select
            size="sm"
            value={limb.section}
            onChange={(event) =>
              edit((draft) => {
                const own = limbOf(draft, limb.name);
                if (own) own.section = event.target.value;
              }, true)
            }
          >
            {sections.map((s) => (
              <option key={s.name} value={s.name}>
                {s.name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )}
      <Form.Group controlId="held" className="inline-select">
        <Form.Label>Held sideways by</Form.Label>
        <Form.Select
          size="sm"
          value={held}
          onChange={(event) =>
            edit((draft) => {
              draft.walker.held = event.target.value as typeof held;
            }, true)
          }
        >
          <option value="free">nothing</option>
          <option value="boom">a boom</option>
          <option value="rail">a rail</option>
        </Form.Select>
      </Form.Group>
    </details>
  );
}
