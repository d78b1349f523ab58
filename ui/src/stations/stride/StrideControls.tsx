import type { Motion, Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { LeverSlider } from "@/controls/LeverSlider";
import { Ground } from "./Ground";
import { Path } from "./Path";
import { Sag } from "./Sag";

export function StrideControls({ project, motion }: { project: Project; motion: Motion }) {
  const leg = useBench((s) => s.leg);
  return (
    <>
      <LeverSlider lever="vx" />
      <LeverSlider lever="vy" />
      <LeverSlider lever="omega" />
      <LeverSlider lever="cycle" />
      <LeverSlider lever="lift" />
      <LeverSlider lever="ride_height" />
      <Figures at="stride" />
      <Choice
        label="The body goes"
        value={motion.travel}
        onValue={(way) =>
          editMotion((m) => {
            m.travel = way as Motion["travel"];
          }, true)
        }
      >
        <option value="asked">as asked</option>
        <option value="implied">as its legs walk</option>
      </Choice>
      <Path motion={motion} />
      <Figures at="stride/ground" />
      <Sag project={project} leg={leg} />
      <Ground />
    </>
  );
}
