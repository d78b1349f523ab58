/** A limb's joints and links: end stops, and what each link weighs; of a free chain its axes and offsets too. */

import { Fragment, useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Limb, Project } from "@/api/client";
import { editLeg } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Fold } from "@/controls/Fold";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { Remove } from "@/controls/Remove";
import { TextBox } from "@/controls/TextBox";
import { FieldForm } from "@/fields/FieldForm";
import { frameEdit } from "../frameEdit";
import { AlikeSwitch, spoken } from "./LegPanel";

const MOST_JOINTS = 7;

/** "hip yaw" → "hip_yaw": names of parts are in paths. */
const oneWord = (name: string) => name.replaceAll(/\s+/g, "_");

export function JointsPanel({ project, limb, index }: { project: Project; limb: Limb; index: number }) {
  const family = useCatalogue()?.families.find((f) => f.name === limb.family);
  const [refusal, setRefusal] = useState("");
  const at = ["walker", "limbs", index];
  const joint = (name: string) => family?.joints.find((j) => j.name === name)?.label ?? spoken(name);
  const link = (name: string) => family?.links.find((l) => l.name === name)?.label ?? spoken(name);
  const act = async (asked: Promise<string>) => setRefusal(await asked);
  if (!limb.joints.length) return <p className="hint">{limb.name} has no joints.</p>;
  return (
    <>
      <AlikeSwitch />
      <fieldset className="form-fields">
        <legend>End stops</legend>
        {limb.joints.map((j, n) => (
          <div key={j.name} className="joint-row">
            <span className="joint-name">
              {family?.open ? (
                <TextBox
                  className="part-name"
                  label={`Name of the joint ${j.name}`}
                  value={j.name}
                  onValue={(called) =>
                    void act(frameEdit(project, "call_joint", { joint: j.name, called: oneWord(called) }))
                  }
                />
              ) : (
                <b>{joint(j.name)}</b>
              )}
              {family?.open && (
                <span>
                  {n < limb.joints.length - 1 && (
                    <button
                      type="button"
                      className="do"
                      aria-label={`A joint behind ${j.name}`}
                      disabled={limb.joints.length >= MOST_JOINTS}
                      onClick={() => void act(frameEdit(project, "joint", { joint: j.name }))}
                    >
                      Add behind
                    </button>
                  )}
                  <Remove
                    label={`Remove ${j.name}`}
                    disabled={limb.joints.length < 2}
                    onRemove={() => void act(frameEdit(project, "unjoint", { joint: j.name }))}
                  />
                </span>
              )}
            </span>
            <FieldForm
              of={j.kind === "slide" ? "SlideJoint" : "HingeJoint"}
              at={[...at, "joints", n]}
              fields={j.kind === "slide" ? ["min_mm", "max_mm"] : ["min_deg", "max_deg", "friction_nm"]}
              about={joint(j.name)}
              columns={j.kind === "slide" ? 2 : 3}
            />
            {family?.open && (
              <>
                <Axis limb={limb} index={index} n={n} />
                <FieldForm
                  of="Link"
                  at={[...at, "links", n]}
                  fields={["offset_mm"]}
                  told={{ offset_mm: { firm: true } }}
                  about={j.name}
                />
              </>
            )}
          </div>
        ))}
      </fieldset>
      {family?.open && (
        <div className="button-row">
          <button
            type="button"
            className="do"
            disabled={limb.joints.length >= MOST_JOINTS}
            onClick={() => void act(frameEdit(project, "joint"))}
          >
            Add a joint at its end
          </button>
        </div>
      )}
      {limb.links.map((k, n) => (
        <Fragment key={k.name}>
          {family?.open && (
            <TextBox
              className="part-name"
              label={`Name of the link ${k.name}`}
              value={k.name}
              onValue={(called) => void act(frameEdit(project, "call_link", { link: k.name, called: oneWord(called) }))}
            />
          )}
          <FieldForm
            of="Link"
            at={[...at, "links", n]}
            fields={["mass_g", "radius_mm", "price", "print_h"]}
            about={link(k.name)}
            legend={family?.open ? undefined : link(k.name)}
            columns={2}
          />
        </Fragment>
      ))}
      <Fold name="Names in tables and files">
        {limb.joints.map((j, n) => (
          <FieldForm
            key={j.name}
            of={j.kind === "slide" ? "SlideJoint" : "HingeJoint"}
            at={[...at, "joints", n]}
            fields={["in_files"]}
            told={{
              in_files: {
                usual: { called: `${limb.name}_${j.name}`, reversed: false },
                unsaid: `${limb.name}.${j.name}, as here`,
              },
            }}
            about={joint(j.name)}
            legend={joint(j.name)}
          />
        ))}
      </Fold>
      <Refused why={refusal} />
    </>
  );
}

const WAYS: [string, [number, number, number]][] = [
  ["forward", [1, 0, 0]],
  ["back", [-1, 0, 0]],
  ["left", [0, 1, 0]],
  ["right", [0, -1, 0]],
  ["up", [0, 0, 1]],
  ["down", [0, 0, -1]],
];

/** An axis: one of six ways, or three numbers that are taken together. */
function Axis({ limb, index, n }: { limb: Limb; index: number; n: number }) {
  const joint = limb.joints[n];
  const axis = joint.axis ?? [0, 1, 0];
  const way = WAYS.find(([, a]) => a.every((v, k) => v === axis[k]))?.[0] ?? "";
  const [own, setOwn] = useState<number[] | null>(null);
  const put = (value: number[]) => {
    setOwn(null);
    void editLeg(limb.name, (draft) => {
      draft.walker.limbs[index].joints[n].axis = value as [number, number, number];
    });
  };
  const typed = own ?? axis;
  const open = own !== null || way === "";
  return (
    <div className="axis-row">
      <span>Axis points</span>
      <Choice
        quiet
        label={`Axis of ${joint.name}`}
        value={open ? "" : way}
        none="another way …"
        onValue={(chosen) => {
          const found = WAYS.find(([name]) => name === chosen);
          if (found) put(found[1]);
          else setOwn([...axis]);
        }}
      >
        {WAYS.map(([name]) => (
          <option key={name}>{name}</option>
        ))}
      </Choice>
      {open && (
        <span className="axis-own">
          {typed.map((value, k) => (
            <NumberBox
              key={["forward", "left", "up"][k]}
              quiet
              label={`Axis of ${joint.name}, ${["forward", "left", "up"][k]}`}
              value={value}
              unit=""
              step={0.1}
              min={-1000}
              max={1000}
              onValue={(v) => setOwn(typed.map((was, m) => (m === k ? v : was)))}
            />
          ))}
          <button
            type="button"
            className="do"
            disabled={!own || own.every((v) => v === 0)}
            onClick={() => own && put(own)}
          >
            Take
          </button>
        </span>
      )}
    </div>
  );
}
