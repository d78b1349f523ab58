/** What the machine has to fit: its folded box, an edge to pass over, a circle to turn in. */
import type { Limb, Project } from "@/api/client";
import { endsOf, firstJoint, setFolded } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Figures } from "@/controls/Figures";
import { LegPicker } from "@/controls/LegPicker";
import { NumberBox } from "@/controls/NumberBox";
import { FieldForm } from "@/fields/FieldForm";
import { spoken } from "./LegPanel";

export function CarriedPanel({ project, limb }: { project: Project; limb: Limb }) {
  const { folded } = project.walker;
  return (
    <>
      <FieldForm
        of="Limits"
        at={["limits"]}
        fields={["clearance_mm", "slip_mm", "step_height_mm", "turning_radius_mm"]}
        told={{
          clearance_mm: { label: "Parts keep apart by" },
          slip_mm: { label: "Slip allowed in a stance" },
          step_height_mm: { label: "Has to pass over an edge of", usual: 20, unsaid: "no edge", low: 0.1 },
          turning_radius_mm: { label: "Has to turn in a circle of", usual: 300, unsaid: "no circle", low: 0.1 },
        }}
      />
      <Figures at="frame" />
      {folded ? (
        <>
          <FieldForm
            of="FoldedPose"
            at={["walker", "folded"]}
            fields={["box_mm"]}
            told={{ box_mm: { label: "Folded into a box of", low: 1, step: 5 } }}
          />
          <p className="hint">
            The drawing shows it folded, in its box. Joints not set stand at their servos' middles.
          </p>
          <LegPicker />
          <Angles project={project} limb={limb} />
          <div className="button-row">
            <button
              type="button"
              className="do"
              onClick={() =>
                edit((d) => {
                  d.walker.folded = null;
                }, true)
              }
            >
              It is carried in no box
            </button>
          </div>
        </>
      ) : (
        <p className="said">
          <span>Folded into a box</span>
          <span>no box</span>
          <button
            type="button"
            className="link-button"
            aria-label="Set: folded into a box"
            onClick={() =>
              edit((d) => {
                d.walker.folded = { box_mm: [400, 300, 200], joints: [] };
              }, true)
            }
          >
            Set
          </button>
        </p>
      )}
    </>
  );
}

function Angles({ project, limb }: { project: Project; limb: Limb }) {
  const { folded } = project.walker;
  const stands = useBench((s) => s.picture?.data.rest_joints_deg);
  if (!folded || !limb.joints.length) return null;
  const first = firstJoint(project, limb);
  return (
    <fieldset className="form-fields columns-2">
      <legend>{limb.name} folded</legend>
      {limb.joints.map((joint, n) => (
        <NumberBox
          key={joint.name}
          label={`${spoken(joint.name)}, folded`}
          value={
            folded.joints.find((a) => a.limb === limb.name && a.joint === joint.name)?.value ??
            Math.round(stands?.[first + n] ?? 0)
          }
          unit={endsOf(joint).unit}
          step={1}
          min={endsOf(joint).low}
          max={endsOf(joint).high}
          onValue={(v) => edit((d) => setFolded(d, limb.name, joint.name, v), true)}
        />
      ))}
    </fieldset>
  );
}
