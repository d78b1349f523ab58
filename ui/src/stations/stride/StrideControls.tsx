import type { Motion, Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { Figures } from "@/controls/Figures";
import { LeverSlider } from "@/controls/LeverSlider";
import { FieldForm } from "@/fields/FieldForm";
import { Ground } from "./Ground";
import { Path } from "./Path";
import { Sag } from "./Sag";

export function StrideControls({ project, motion }: { project: Project; motion: Motion }) {
  const leg = useBench((s) => s.leg);
  const index = project.motions.findIndex((m) => m.name === motion.name);
  return (
    <>
      <LeverSlider lever="vx" />
      <LeverSlider lever="vy" />
      <LeverSlider lever="omega" />
      <LeverSlider lever="cycle" />
      <LeverSlider lever="lift" />
      <LeverSlider lever="ride_height" />
      <Figures at="stride" />
      <FieldForm of="PhaseGait" at={["motions", index]} fields={["travel"]} />
      <Path motion={motion} index={index} />
      <Figures at="stride/ground" />
      <Sag project={project} leg={leg} />
      <Ground />
      <h3>Drift</h3>
      <Figures at="stride/drift" />
      <LeverSlider lever="steer" />
      <FieldForm of="Limits" at={["limits"]} fields={["drift_mm_m"]} />
    </>
  );
}
