/** What moves the body over its feet: where it stands, how it leans, how it sways. */

import type { Motion, Project } from "@/api/client";
import { figure } from "@/api/picture";
import { useBench } from "@/bench/state";
import { editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { LeverSlider } from "@/controls/LeverSlider";
import { SWAYS } from "@/controls/levers";
import { FieldForm } from "@/fields/FieldForm";
import { DryRun } from "./DryRun";
import { Ladder } from "./Ladder";
import { OwnEnds } from "./OwnEnds";
import { PlannedSway } from "./PlannedSway";
import { WhatIf } from "./WhatIf";

export function BalanceControls({ project, motion }: { project: Project; motion: Motion }) {
  const slopes = project.floor.slope_deg > 0;
  const swaying = motion.pose.sway.length > 0;
  const onSoles = useBench((s) => s.picture?.data.push !== undefined && !figure(s.picture, "pushing_ahead_mm"));
  return (
    <>
      <LeverSlider lever="ride_height" />
      <LeverSlider lever="shift_x" />
      <LeverSlider lever="shift_y" />
      <LeverSlider lever="roll" />
      <LeverSlider lever="pitch" />
      {SWAYS.map(({ far, when }) => (
        <div key={far} className="sway">
          <LeverSlider lever={far} />
          <LeverSlider lever={when} plain />
        </div>
      ))}
      <LeverSlider lever="slope" />
      {slopes && <LeverSlider lever="uphill" />}
      {onSoles && <PlannedSway project={project} />}
      {swaying && (
        <button
          type="button"
          className="do"
          onClick={() =>
            editMotion((m) => {
              m.pose.sway = [];
            }, true)
          }
        >
          No sway
        </button>
      )}
      <Choice
        label="Judged as"
        value={motion.balance}
        onValue={(balance) =>
          editMotion((m) => {
            m.balance = balance as Motion["balance"];
          }, true)
        }
      >
        <option value="static">may stop (static)</option>
        <option value="dynamic">keeps moving (dynamic)</option>
      </Choice>
      <OwnEnds project={project} />
      <FieldForm
        of="Limits"
        at={["limits"]}
        fields={motion.legs.length === 2 ? ["margin_mm", "knee_bend_deg"] : ["margin_mm"]}
      />
      <Figures at="balance" />
      <DryRun project={project} />
      {motion.balance === "dynamic" && motion.legs.some((l) => l.duty < 1) && <Ladder project={project} />}
      <WhatIf project={project} />
    </>
  );
}
