import Form from "react-bootstrap/Form";
import type { Motion, Project } from "@/api/client";
import { edit, editMotion } from "@/bench/store";
import Button from "@/controls/Button";
import { Figures } from "@/controls/Figures";
import { LeverSlider } from "@/controls/LeverSlider";
import { NumberBox } from "@/controls/NumberBox";

/** One amplitude of the first harmonic: how far the body goes each way. */
function sway(motion: Motion, axis: "x" | "y"): number {
  return Math.max(0, ...motion.pose.sway.map((t) => Math.hypot(t[`${axis}_cos_mm`], t[`${axis}_sin_mm`])));
}

export function BalanceControls({ project, motion }: { project: Project; motion: Motion }) {
  const swaying = motion.pose.sway.length > 0;
  return (
    <>
      <LeverSlider lever="ride_height" motion={motion} />
      <LeverSlider lever="shift_x" motion={motion} />
      <LeverSlider lever="shift_y" motion={motion} />
      <LeverSlider lever="roll" motion={motion} />
      <LeverSlider lever="pitch" motion={motion} />
      <div className="sway-row">
        <span>
          Sway{" "}
          <strong>
            {swaying
              ? `${sway(motion, "y").toFixed(0)} mm sideways, ${sway(motion, "x").toFixed(0)} mm fore and aft`
              : "none"}
          </strong>
        </span>
        {swaying && (
          <Button
            size="sm"
            variant="outline-dark"
            onClick={() =>
              editMotion((m) => {
                m.pose.sway = [];
              }, true)
            }
          >
            Remove
          </Button>
        )}
      </div>
      <Form.Group controlId="balance" className="inline-select">
        <Form.Label>Judged as</Form.Label>
        <Form.Select
          size="sm"
          value={motion.balance}
          onChange={(event) =>
            editMotion((m) => {
              m.balance = event.target.value as Motion["balance"];
            }, true)
          }
        >
          <option value="static">Static: may stop</option>
          <option value="dynamic">Dynamic: keeps moving</option>
        </Form.Select>
      </Form.Group>
      <div className="number-grid">
        <NumberBox
          label="Margin to keep"
          value={project.limits.margin_mm}
          unit="mm"
          step={1}
          min={0}
          max={500}
          onValue={(v) =>
            edit((draft) => {
              draft.limits.margin_mm = v;
            }, true)
          }
        />
      </div>
      <Figures at="balance" />
    </>
  );
}
