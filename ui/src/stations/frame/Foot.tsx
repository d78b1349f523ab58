/** The sole of a foot and what its contact does. */
import Form from "react-bootstrap/Form";
import type { Limb } from "@/api/client";
import { limbOf } from "@/bench/edits";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";

type Sole = Limb["feet"][number]["sole"];
type Contact = Limb["feet"][number]["contact"];

const SOLES: Record<Sole["kind"], [string, Sole]> = {
  point: ["Tip", { kind: "point" }],
  ball: ["Ball", { kind: "ball", radius_mm: 8 }],
  edge: ["Straight edge or blade", { kind: "edge", length_mm: 60, heading_deg: 0 }],
  rectangle: ["Rectangle", { kind: "rectangle", length_mm: 80, width_mm: 45, ahead_mm: 0, left_mm: 0 }],
  curved: ["Curved", { kind: "curved", radius_fore_mm: 120, radius_side_mm: 120 }],
};

const WORDS: Record<string, [string, string]> = {
  radius_mm: ["Radius", "mm"],
  length_mm: ["Length", "mm"],
  width_mm: ["Width", "mm"],
  heading_deg: ["Heading", "°"],
  ahead_mm: ["Middle ahead of the leg", "mm"],
  left_mm: ["Middle left of the leg", "mm"],
  radius_fore_mm: ["Radius fore and aft", "mm"],
  radius_side_mm: ["Radius sideways", "mm"],
};

const CONTACTS: [string, string, Contact][] = [
  ["planted", "Stays where it is put", { kind: "planted" }],
  ["wheel", "Rolls along its heading", { kind: "rolls", heading_deg: 0, any_way: false }],
  ["caster", "Rolls every way", { kind: "rolls", heading_deg: 0, any_way: true }],
  ["slides", "Slides", { kind: "slides" }],
];

export function Foot({ limb, alike }: { limb: Limb; alike: boolean }) {
  const foot = limb.feet[0];
  if (!foot) return null;
  const change = (apply: (foot: Limb["feet"][number]) => void) =>
    edit((draft) => {
      for (const other of draft.walker.limbs) {
        const same = other.name === limb.name || (alike && other.family === limb.family);
        if (same && other.feet[0]) apply(other.feet[0]);
      }
    }, true);
  const rolls = foot.contact.kind === "rolls" ? (foot.contact.any_way ? "caster" : "wheel") : foot.contact.kind;
  return (
    <details className="fold">
      <summary>Foot</summary>
      <Form.Group controlId="sole" className="inline-select">
        <Form.Label>Sole</Form.Label>
        <Form.Select
          size="sm"
          value={foot.sole.kind}
          onChange={(event) =>
            change((f) => {
              f.sole = structuredClone(SOLES[event.target.value as Sole["kind"]][1]);
            })
          }
        >
          {Object.entries(SOLES).map(([kind, [label]]) => (
            <option key={kind} value={kind}>
              {label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {Object.entries(foot.sole)
        .filter(([field]) => field !== "kind")
        .map(([field, value]) => (
          <NumberBox
            key={field}
            label={WORDS[field][0]}
            value={value as number}
            unit={WORDS[field][1]}
            step={1}
            min={field.startsWith("ahead") || field.startsWith("left") || field.startsWith("heading") ? -360 : 0}
            max={2000}
            onValue={(v) => change((f) => void Object.assign(f.sole, { [field]: v }))}
          />
        ))}
      <Form.Group controlId="contact" className="inline-select">
        <Form.Label>On the floor it</Form.Label>
        <Form.Select
          size="sm"
          value={rolls}
          onChange={(event) =>
            change((f) => {
              f.contact = structuredClone(CONTACTS.find(([name]) => name === event.target.value)?.[2] ?? f.contact);
            })
          }
        >
          {CONTACTS.map(([name, label]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {limb.joints.length > 0 && (
        <Form.Check
          id="upper-foot"
          type="switch"
          label="A second foot on the upper side"
          checked={limb.feet.length > 1}
          onChange={(event) => {
            const on = event.target.checked;
            edit((draft) => {
              const own = limbOf(draft, limb.name);
              if (!own) return;
              if (!on) own.feet.splice(1);
              else
                own.feet.push({
                  name: "upper_foot",
                  side: "upper",
                  at_mm: [0, 0, 20],
                  sole: { kind: "point" },
                  contact: { kind: "planted" },
                });
            }, true);
          }}
        />
      )}
    </details>
  );
}
