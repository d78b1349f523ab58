/** How a motion stands that has no numbers to turn here. */
import type { Project } from "@/api/client";
import { Figures } from "@/controls/Figures";
import { DryRun } from "./DryRun";

export function BalanceTold({ project }: { project: Project }) {
  return (
    <>
      <Figures at="balance" />
      <DryRun project={project} />
    </>
  );
}
