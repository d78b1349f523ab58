import Form from "react-bootstrap/Form";
import { useCatalogue } from "@/api/catalogue";
import type { Motion, Project } from "@/api/client";
import { editMotion } from "@/bench/store";
import { Figures } from "@/controls/Figures";
import { LeverSlider } from "@/controls/LeverSlider";
import { LEVERS } from "@/controls/levers";

export function StrideControls({ motion }: { project: Project; motion: Motion }) {
  const paths = useCatalogue()?.foot_paths;
  return (
    <>
      <LeverSlider spec={LEVERS.vx} motion={motion} />
      <LeverSlider spec={LEVERS.vy} motion={motion} />
      <LeverSlider spec={LEVERS.omega} motion={motion} />
      <LeverSlider spec={LEVERS.cycle} motion={motion} />
      <LeverSlider spec={LEVERS.lift} motion={motion} />
      <LeverSlider spec={LEVERS.ride_height} motion={motion} />
      <Form.Group controlId="foot-path" className="inline-select">
        <Form.Label>Foot path</Form.Label>
        <Form.Select
          size="sm"
          value={motion.foot_path}
          onChange={(event) =>
            editMotion((m) => {
              m.foot_path = event.target.value;
            }, true)
          }
        >
          {(paths ?? [{ name: motion.foot_path, label: motion.foot_path }]).map((p) => (
            <option key={p.name} value={p.name}>
              {p.label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <Figures
        names={[
          "stride_mm",
          "turn_deg",
          "stroke_mm",
          "swing_s",
          "landing_speed_mm_s",
          "peak_rate_deg_s",
          "end_stop_room_deg",
          "straight_knee_mm",
        ]}
      />
    </>
  );
}
