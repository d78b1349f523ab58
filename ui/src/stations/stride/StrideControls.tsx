import type { Motion, Project } from "@/api/client";
import { Figures } from "@/controls/Figures";
import { LeverSlider } from "@/controls/LeverSlider";
import { LEVERS } from "@/controls/levers";
import { Ground } from "./Ground";
import { Path } from "./Path";

export function StrideControls({ project, motion }: { project: Project; motion: Motion }) {
  return (
    <>
      <LeverSlider spec={LEVERS.vx} motion={motion} />
      <LeverSlider spec={LEVERS.vy} motion={motion} />
      <LeverSlider spec={LEVERS.omega} motion={motion} />
      <LeverSlider spec={LEVERS.cycle} motion={motion} />
      <LeverSlider spec={LEVERS.lift} motion={motion} />
      <LeverSlider spec={LEVERS.ride_height} motion={motion} />
      <Path motion={motion} />
      <Figures names={["clear_mm", "landing_speed_mm_s", "jolt_n", "late_deg_ms"]} />
      <Ground project={project} motion={motion} />
      <Figures
        names={[
          "stride_mm",
          "turn_deg",
          "stroke_mm",
          "swing_s",
          "peak_rate_deg_s",
          "end_stop_room_deg",
          "straight_knee_mm",
        ]}
      />
    </>
  );
}
