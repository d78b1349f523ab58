/** A limb: what kind it is, how long, where it sits and where its foot stands. */

import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Limb, Motion, Project } from "@/api/client";
import { endsOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { Switch } from "@/controls/Switch";
import { FieldForm } from "@/fields/FieldForm";
import { frameEdit } from "../frameEdit";

/** "knee_up" → "knee up". */
export const spoken = (key: string) => key.replaceAll("_", " ");

export function AlikeSwitch() {
  const mirrored = useBench((s) => s.mirrored);
  return (
    <Switch
      label="Legs alike: others of its kind follow, mirrored"
      value={mirrored}
      onValue={(on) => useBench.setState({ mirrored: on })}
    />
  );
}

export function LegPanel({
  project,
  motion,
  limb,
  index,
}: {
  project: Project;
  motion: Motion;
  limb: Limb;
  index: number;
}) {
  const catalogue = useCatalogue();
  const family = catalogue?.families.find((f) => f.name === limb.family);
  const families = catalogue?.families.filter((f) => f.name !== "fixed") ?? [];
  const [refusal, setRefusal] = useState("");
  const [count, setCount] = useState(6);
  const act = async (asked: Promise<string>) => setRefusal(await asked);
  const at = ["walker", "limbs", index];
  const bends = project.walker.sections.findIndex((s) => s.hinge?.turned_by?.startsWith(`${limb.name}/`));
  const label = (name: string) => family?.links.find((l) => l.name === name)?.label ?? spoken(name);
  if (bends > 0)
    return (
      <>
        <p className="said">
          <span>Bends</span>
          <span>{project.walker.sections[bends].name}, where that hangs</span>
          <button
            type="button"
            className="link-button"
            onClick={() => useBench.setState({ picked: { kind: "body", index: bends } })}
          >
            The section
          </button>
        </p>
        <Held limb={limb} motion={motion} />
        <p className="hint">It moves within a cycle by Timing, "Heads and arms in the cycle".</p>
        <div className="button-row">
          <button type="button" className="do" onClick={() => void act(frameEdit(project, "remove"))}>
            Take the servo off the hinge
          </button>
        </div>
        <Refused why={refusal} />
      </>
    );
  return (
    <>
      <AlikeSwitch />
      {limb.joints.length > 0 ? (
        <Choice
          label="Kind"
          value={limb.family}
          onValue={(kind) => void act(frameEdit(project, "refit", { family: kind }))}
        >
          {families.map((f) => (
            <option key={f.name} value={f.name}>
              {f.label}
            </option>
          ))}
        </Choice>
      ) : (
        <p className="hint">A support without joints: it stands on its foot.</p>
      )}
      {family?.open && limb.joints.length > 0 && (
        <p className="hint">Its joints' axes and what lies between them are told at Joints.</p>
      )}
      {family && !family.open && limb.links.length > 0 && (
        <div className="form-fields columns-3 tops">
          {limb.links.map((link, n) => (
            <FieldForm
              key={link.name}
              of="Link"
              at={[...at, "links", n]}
              fields={["length_mm"]}
              told={{ length_mm: { label: label(link.name) } }}
            />
          ))}
        </div>
      )}
      {project.walker.sections.length > 1 && (
        <Choice
          label="Hangs on"
          value={limb.section}
          onValue={(section) => void act(frameEdit(project, "hang", { section }))}
        >
          {project.walker.sections.map((s) => (
            <option key={s.name} value={s.name}>
              {s.name}
            </option>
          ))}
        </Choice>
      )}
      <FieldForm of="Mount" at={[...at, "mount"]} fields={["at_mm"]} />
      <FieldForm of="Mount" at={[...at, "mount"]} fields={["yaw_deg", "pitch_deg", "roll_deg"]} columns={3} />
      {limb.joints.length > 0 && limb.feet.length > 0 && (
        <FieldForm of="Limb" at={at} fields={["neutral_mm"]} told={{ neutral_mm: { firm: true } }} />
      )}
      {limb.neutral_mm && (
        <FieldForm of="Limb" at={at} fields={["toe_deg", ...(family?.pose ? ["lean_deg"] : [])]} columns={2} />
      )}
      <FieldForm
        of="Limb"
        at={at}
        fields={[
          ...((family?.branches.length ?? 0) > 1 ? ["branch"] : []),
          ...(limb.neutral_mm && family?.keeps.length ? ["keep"] : []),
          ...(family?.takes_hip_offset ? ["hip_offset_mm"] : []),
        ]}
        told={{
          branch: { choices: (family?.branches ?? []).map((b) => ({ name: b, label: spoken(b) })) },
          keep: { choices: family?.keeps ?? [], unsaid: family?.keeps[0]?.label },
          hip_offset_mm: { label: "Second joint off by" },
        }}
      />
      {limb.joints.length > 0 && !limb.neutral_mm && <Held limb={limb} motion={motion} />}
      <div className="button-row">
        <button type="button" className="do" onClick={() => void act(frameEdit(project, "mirror"))}>
          Mirror {limb.name}
        </button>
        <button type="button" className="do" onClick={() => void act(frameEdit(project, "copy"))}>
          Copy
          <span className="visually-hidden"> {limb.name}</span>
        </button>
        <button type="button" className="do" onClick={() => void act(frameEdit(project, "behind"))}>
          To the other end
          <span className="visually-hidden"> {limb.name}</span>
        </button>
        <button type="button" className="do" onClick={() => void act(frameEdit(project, "remove"))}>
          Remove
          <span className="visually-hidden"> {limb.name}</span>
        </button>
      </div>
      {limb.neutral_mm && (
        <div className="round-row">
          <NumberBox
            label="Round the middle, in all"
            value={count}
            unit=""
            step={1}
            min={2}
            max={12}
            onValue={setCount}
          />
          <button
            type="button"
            className="do"
            onClick={() => void act(frameEdit(project, "repeat", { count: Math.round(count) }))}
          >
            Set {limb.name} round
          </button>
        </div>
      )}
      <Refused why={refusal} />
    </>
  );
}

/** Where the joints of a limb that does not step are held in this motion. */
export function Held({ limb, motion }: { limb: Limb; motion: Motion }) {
  const value = (joint: string) => motion.joints.find((a) => a.limb === limb.name && a.joint === joint)?.value ?? 0;
  return (
    <fieldset className="form-fields columns-2">
      <legend>Held in {motion.name}</legend>
      {limb.joints.map((joint) => (
        <NumberBox
          key={joint.name}
          label={`${spoken(joint.name)}, held at`}
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
