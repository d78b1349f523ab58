/** The frame: the column shows what is picked on the drawing. */
import { useState } from "react";
import type { Motion, Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { LegOf } from "@/fields/told";
import { AddLimb } from "./AddLimb";
import { useAdding } from "./adding";
import { Picker } from "./Picker";
import { BodyPanel } from "./panels/BodyPanel";
import { CarriedPanel } from "./panels/CarriedPanel";
import { DragPanel } from "./panels/DragPanel";
import { FootPanel } from "./panels/FootPanel";
import { JointsPanel } from "./panels/JointsPanel";
import { LeadPanel } from "./panels/LeadPanel";
import { LegPanel } from "./panels/LegPanel";
import { MassPanel } from "./panels/MassPanel";
import { ServosPanel } from "./panels/ServosPanel";

export function FrameControls({ project, motion }: { project: Project; motion: Motion }) {
  const leg = useBench((s) => s.leg);
  const { kind } = useBench((s) => s.picked);
  const [asked, setAsked] = useState(false);
  const { at, close } = useAdding();
  const index = project.walker.limbs.findIndex((l) => l.name === leg);
  const limb = project.walker.limbs[index];
  if (!limb) return null;
  const panels = {
    body: () => <BodyPanel project={project} motion={motion} />,
    mass: () => <MassPanel project={project} />,
    drag: () => <DragPanel project={project} />,
    lead: () => <LeadPanel project={project} />,
    carried: () => <CarriedPanel project={project} limb={limb} />,
    limb: () => <LegPanel project={project} motion={motion} limb={limb} index={index} />,
    joints: () => <JointsPanel project={project} limb={limb} index={index} />,
    foot: () => <FootPanel limb={limb} index={index} />,
    servos: () => <ServosPanel project={project} limb={limb} />,
  };
  const ofLimb = kind === "limb" || kind === "joints" || kind === "foot" || kind === "servos";
  return (
    <>
      <Picker project={project} onAdd={() => setAsked(true)} />
      <LegOf.Provider value={ofLimb ? leg : null}>
        <div key={`${kind} ${ofLimb ? leg : ""}`} className="panel">
          {panels[kind]()}
        </div>
      </LegOf.Provider>
      {(asked || at) && (
        <AddLimb
          project={project}
          at={at}
          onHide={() => {
            setAsked(false);
            close();
          }}
        />
      )}
    </>
  );
}
