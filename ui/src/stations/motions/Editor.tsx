/** What the open motion is made of, by its kind. */

import { useState } from "react";
import type { AnyMotion, Motion, MotionOf, Project, Schemas } from "@/api/client";
import { fetched, posted } from "@/api/client";
import { endsOf } from "@/bench/edits";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { editAny, editKind, replaceDraft } from "@/bench/store";
import { LeverSlider } from "@/controls/LeverSlider";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { frameEdit } from "../frame/frameEdit";
import { FramesEditor } from "./FramesEditor";
import { FreeWalkEditor } from "./FreeWalkEditor";
import { ProgrammeEditor, TransitionEditor } from "./MadeOf";
import { SwingsEditor } from "./SwingsEditor";

export function Editor({ project, motion }: { project: Project; motion: AnyMotion }) {
  switch (motion.kind) {
    case "transition":
      return <TransitionEditor project={project} motion={motion} />;
    case "programme":
      return <ProgrammeEditor project={project} motion={motion} />;
    case "free_walk":
      return <FreeWalkEditor project={project} motion={motion} />;
    case "joint_pose":
      return <JointPoseEditor project={project} motion={motion} />;
    case "swings":
      return <SwingsEditor project={project} motion={motion} />;
    case "keyframes":
      return (
        <>
          <FramesEditor project={project} motion={motion} />
          <Retold motion={motion.name} label="Make it a walk by phases" />
        </>
      );
    default:
      return <GaitEditor motion={motion as Motion} />;
  }
}

/** Poses of a standing body, and how a walk is told otherwise. */
function GaitEditor({ motion }: { motion: Motion }) {
  const stands = motion.legs.every((l) => l.duty === 1);
  return (
    <>
      {stands && (
        <fieldset className="pose-levers">
          <legend>Body over planted feet</legend>
          {(["ride_height", "shift_x", "shift_y", "roll", "pitch", "yaw"] as const).map((name) => (
            <LeverSlider key={name} lever={name} />
          ))}
        </fieldset>
      )}
      <UpsideDown motion={motion} />
      {!stands && (
        <div className="row-of-buttons">
          <Retold motion={motion.name} label="Take it apart into frames" />
          <WalkedLike motion={motion} />
        </div>
      )}
    </>
  );
}

/** On its back, with all that a start, a stop or a programme joins it to. */
function UpsideDown({ motion }: { motion: Motion }) {
  const draft = useBench((s) => s.draft);
  const [refused, setRefused] = useState("");
  if (!draft) return null;
  return (
    <>
      <Switch
        label="Upside down, on the upper feet"
        value={motion.inverted ?? false}
        onValue={() => void frameEdit(draft, "turn_over", { motion: motion.name }).then(setRefused)}
      />
      {refused && (
        <p className="refused" role="alert">
          {refused}
        </p>
      )}
    </>
  );
}

/** The machine has walked it like this: larger changes are told against it from now on. */
function WalkedLike({ motion }: { motion: Motion }) {
  const figures = useBench((s) => s.picture?.figures);
  const value = (name: string) => figures?.find((f) => f.name === name)?.value ?? null;
  const rounded = (v: number | null) => (v === null ? null : Math.round(v * 100) / 100);
  const note = () =>
    editAny((m, draft) => {
      draft.walked = draft.walked.filter((w) => w.motion !== m.name);
      draft.walked.push({
        motion: m.name,
        cycle_s: motion.cycle_s,
        stroke_mm: rounded(value("stroke_mm")) ?? 0,
        lift_mm: motion.lift_mm,
        mass_g: rounded(value("mass_g")),
        com_height_mm: rounded(value("com_height_mm")),
        room_mm: rounded(value(motion.balance === "static" ? "worst_margin_mm" : "pushing_room_mm")),
      });
    }, true);
  return (
    <button type="button" className="do" onClick={note} title="Later changes by a large factor are told against this">
      It has walked like this
    </button>
  );
}

function Retold({ motion, label }: { motion: string; label: string }) {
  const draft = useBench((s) => s.draft);
  const tell = async () => {
    if (!draft) return;
    try {
      const answer = await fetched("/api/retold", posted({ project: draft, motion }));
      const found = (await answer.json()) as Schemas["AddedView"];
      replaceDraft(found.project, found.name);
    } catch (error) {
      useBench.setState({ refusal: inWords(error) });
    }
  };
  return (
    <button type="button" className="do" onClick={() => void tell()}>
      {label}
    </button>
  );
}

function JointPoseEditor({ project, motion }: { project: Project; motion: MotionOf<"joint_pose"> }) {
  const leg = useBench((s) => s.leg);
  const limb = project.walker.limbs.find((l) => l.name === leg) ?? project.walker.limbs[0];
  const set = motion.joints ?? [];
  const put = (joint: string, value: number, alike: boolean) =>
    editKind("joint_pose", (m, draft) => {
      const own = alike ? draft.walker.limbs.filter((l) => l.family === limb.family) : [limb];
      m.joints = (m.joints ?? []).filter((a) => a.joint !== joint || !own.some((l) => l.name === a.limb));
      for (const l of own) {
        // A yaw or roll of the other side goes the other way.
        const flips = (joint === "yaw" || joint === "roll") && l.mount.at_mm[1] * limb.mount.at_mm[1] < 0;
        m.joints.push({ limb: l.name, joint, value: flips ? -value : value });
      }
    });
  return (
    <fieldset className="number-grid links">
      <legend>Joints, legs of one kind alike; those not set stand at their servo's centre</legend>
      {limb.joints.map((joint) => {
        const { unit, low, high } = endsOf(joint);
        const drive = project.walker.drives.find((d) => d.joints[0] === `${limb.name}/${joint.name}`);
        const centre = drive?.servos[0].centre_deg ?? 0;
        return (
          <NumberBox
            key={joint.name}
            label={`${limb.name} ${joint.name}`}
            value={set.find((a) => a.limb === limb.name && a.joint === joint.name)?.value ?? centre}
            unit={unit}
            step={1}
            min={low}
            max={high}
            onValue={(v) => put(joint.name, v, true)}
          />
        );
      })}
    </fieldset>
  );
}
