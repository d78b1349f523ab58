/** How a motion stands that has no numbers to turn here. */
import type { Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { Figures } from "@/controls/Figures";
import { DryRun } from "./DryRun";
import { Ladder } from "./Ladder";
import { OwnEnds } from "./OwnEnds";

export function BalanceTold({ project }: { project: Project }) {
  const motion = useBench((s) => s.motion);
  const swings = project.motions.some((m) => m.name === motion && m.kind === "swings" && m.goes === "on");
  return (
    <>
      <OwnEnds project={project} />
      <Figures at="balance" />
      <DryRun project={project} />
      {swings && <Ladder project={project} />}
    </>
  );
}
