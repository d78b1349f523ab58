/** What the machine has to fit: its folded box, an edge to pass over, a course to turn on; and its leads. */
import type { Limb, Project } from "@/api/client";
import { endsOf } from "@/bench/edits";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";

type Limit = "step_height_mm" | "turning_radius_mm";

const ASKED: [Limit, string, number][] = [
  ["step_height_mm", "Edge to pass over", 20],
  ["turning_radius_mm", "Tightest turn of the course", 300],
];

export function Fits({ project, limb }: { project: Project; limb: Limb }) {
  const { folded, leads } = project.walker;
  const limits = project.limits;
  const centre = (joint: string) =>
    project.walker.drives.find((d) => d.joints.length === 1 && d.joints[0] === `${limb.name}/${joint}`)?.servos[0]
      .centre_deg ?? 0;
  return (
    <details className="fold">
      <summary>Fits and clearances</summary>
      <NumberBox
        label="Parts keep apart by"
        value={limits.clearance_mm}
        unit="mm"
        step={0.5}
        min={0}
        max={200}
        onValue={(v) =>
          edit((d) => {
            d.limits.clearance_mm = v;
          }, true)
        }
      />
      <NumberBox
        label="Slip allowed in a stance"
        value={limits.slip_mm}
        unit="mm"
        step={0.5}
        min={0.1}
        max={500}
        onValue={(v) =>
          edit((d) => {
            d.limits.slip_mm = v;
          }, true)
        }
      />
      {ASKED.map(([name, label, usual]) => (
        <Asked
          key={name}
          label={label}
          value={limits[name]}
          usual={usual}
          onValue={(v) =>
            edit((d) => {
              d.limits[name] = v;
            }, true)
          }
        />
      ))}
      {folded ? (
        <fieldset className="number-grid links">
          <legend>
            Folded, it fits a box of:{" "}
            <button
              type="button"
              className="link-button"
              onClick={() =>
                edit((d) => {
                  d.walker.folded = null;
                }, true)
              }
            >
              Leave the box out
            </button>
          </legend>
          {(["long", "wide", "high"] as const).map((axis, k) => (
            <NumberBox
              key={axis}
              label={axis}
              value={folded.box_mm[k]}
              unit="mm"
              step={5}
              min={1}
              max={2000}
              onValue={(v) =>
                edit((d) => {
                  if (d.walker.folded) d.walker.folded.box_mm[k] = v;
                }, true)
              }
            />
          ))}
        </fieldset>
      ) : null}
      {folded && limb.joints.length > 0 && (
        <fieldset className="number-grid">
          <legend>{limb.name} folded; at its servos' centres where nothing is set</legend>
          {limb.joints.map((joint) => (
            <NumberBox
              key={joint.name}
              label={`${joint.name}, folded`}
              value={
                folded.joints.find((a) => a.limb === limb.name && a.joint === joint.name)?.value ?? centre(joint.name)
              }
              unit={endsOf(joint).unit}
              step={1}
              min={endsOf(joint).low}
              max={endsOf(joint).high}
              onValue={(v) =>
                edit((d) => {
                  const pose = d.walker.folded;
                  if (!pose) return;
                  pose.joints = pose.joints.filter((a) => a.limb !== limb.name || a.joint !== joint.name);
                  pose.joints.push({ limb: limb.name, joint: joint.name, value: v });
                }, true)
              }
            />
          ))}
        </fieldset>
      )}
      {!folded && (
        <p className="hint">
          It is carried in no box.{" "}
          <button
            type="button"
            className="link-button"
            onClick={() =>
              edit((d) => {
                d.walker.folded = { box_mm: [400, 300, 200], joints: [] };
              }, true)
            }
          >
            Give it one
          </button>
        </p>
      )}
      <fieldset className="number-grid">
        <legend>Leads, from the body to a link</legend>
        {leads.map((lead, n) => (
          <div key={lead.name} className="lead-row">
            <NumberBox
              label={lead.name}
              value={lead.length_mm}
              unit="mm"
              step={5}
              min={1}
              max={5000}
              onValue={(v) =>
                edit((d) => {
                  d.walker.leads[n].length_mm = v;
                }, true)
              }
            />
            <Remove
              label={`Remove lead ${lead.name}`}
              onRemove={() => edit((d) => void d.walker.leads.splice(n, 1), true)}
            />
          </div>
        ))}
        {leads.length > 0 && (
          <NumberBox
            label="Slack each keeps"
            value={limits.lead_slack_mm}
            unit="mm"
            step={1}
            min={0}
            max={500}
            onValue={(v) =>
              edit((d) => {
                d.limits.lead_slack_mm = v;
              }, true)
            }
          />
        )}
      </fieldset>
      <LeadMaker project={project} />
    </details>
  );
}

function Asked({
  label,
  value,
  usual,
  onValue,
}: {
  label: string;
  value: number | null;
  usual: number;
  onValue: (value: number | null) => void;
}) {
  if (value === null)
    return (
      <p className="asked">
        {label}: not asked.{" "}
        <button type="button" className="link-button" onClick={() => onValue(usual)}>
          Ask {usual} mm
        </button>
      </p>
    );
  return (
    <div className="lead-row">
      <NumberBox label={label} value={value} unit="mm" step={1} min={0.1} max={20000} onValue={onValue} />
      <Remove label={`Do not ask: ${label}`} onRemove={() => onValue(null)} />
    </div>
  );
}

/** A lead along a limb, held at each of its joints. */
function LeadMaker({ project }: { project: Project }) {
  return (
    <select
      className="form-select form-select-sm"
      aria-label="Add a lead to"
      value=""
      onChange={(event) => {
        const [limb, link] = event.target.value.split("/");
        edit((d) => {
          const found = d.walker.limbs.find((l) => l.name === limb);
          if (!found) return;
          const way = found.links.slice(0, found.links.findIndex((l) => l.name === link) + 1);
          const taken = new Set(d.walker.leads.map((l) => l.name));
          let name = `${limb} ${link} lead`;
          for (let n = 2; taken.has(name); n++) name = `${limb} ${link} lead ${n}`;
          d.walker.leads.push({
            name,
            length_mm: 200,
            path: [
              { on: found.section, at_mm: [0, 0, 0] },
              ...way.map((l) => ({ on: `${limb}/${l.name}`, at_mm: [0, 0, 0] as [number, number, number] })),
            ],
          });
        }, true);
      }}
    >
      <option value="" disabled>
        Add a lead to …
      </option>
      {project.walker.limbs.flatMap((l) =>
        l.links.map((link) => (
          <option key={`${l.name}/${link.name}`} value={`${l.name}/${link.name}`}>
            {l.name} {link.name}
          </option>
        )),
      )}
    </select>
  );
}
