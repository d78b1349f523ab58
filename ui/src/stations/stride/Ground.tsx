/** What the feet meet: an uneven floor, carpet, something to step over; and how far a foot may search for the ground. */
import type { Motion, Project } from "@/api/client";
import { edit } from "@/bench/store";
import { LeverSlider } from "@/controls/LeverSlider";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";

type Field = "unevenness_mm" | "obstacle_mm";

export function Ground({ project, motion }: { project: Project; motion: Motion }) {
  const floor = project.floor;
  const said = (field: Field, label: string, usual: number) =>
    floor[field] === null ? (
      <p className="said" key={field}>
        <span>{label}</span>
        <button
          type="button"
          className="link-button"
          aria-label={`Say: ${label}`}
          onClick={() =>
            edit((draft) => {
              draft.floor[field] = usual;
            }, true)
          }
        >
          Say
        </button>
      </p>
    ) : (
      <span className="said" key={field}>
        <NumberBox
          label={label}
          value={floor[field] ?? usual}
          unit="mm"
          step={1}
          min={field === "obstacle_mm" ? 0.5 : 0}
          max={field === "obstacle_mm" ? 1000 : 200}
          onValue={(v) =>
            edit((draft) => {
              draft.floor[field] = v;
            }, true)
          }
        />
        <Remove
          label={`${label}: not said`}
          onRemove={() =>
            edit((draft) => {
              draft.floor[field] = null;
            }, true)
          }
        />
      </span>
    );
  return (
    <details className="fold">
      <summary>Ground and obstacles</summary>
      {said("unevenness_mm", "Floor uneven by", 4)}
      {said("obstacle_mm", "Obstacle, height", 15)}
      <div className="number-grid">
        {floor.obstacle_mm !== null && (
          <NumberBox
            label="Obstacle at, share of the step"
            value={floor.obstacle_at}
            unit=""
            step={0.05}
            min={0.05}
            max={0.95}
            onValue={(v) =>
              edit((draft) => {
                draft.floor.obstacle_at = v;
              }, true)
            }
          />
        )}
        <NumberBox
          label="Carpet pile"
          value={floor.pile_mm}
          unit="mm"
          step={1}
          min={0}
          max={100}
          onValue={(v) =>
            edit((draft) => {
              draft.floor.pile_mm = v;
            }, true)
          }
        />
        <NumberBox
          label="Lean allowed"
          value={project.limits.lean_deg}
          unit="°"
          step={0.5}
          min={0.1}
          max={45}
          onValue={(v) =>
            edit((draft) => {
              draft.limits.lean_deg = v;
            }, true)
          }
        />
        <NumberBox
          label="Jolt allowed, share of the weight"
          value={project.limits.jolt_share}
          unit=""
          step={0.05}
          min={0.01}
          max={20}
          onValue={(v) =>
            edit((draft) => {
              draft.limits.jolt_share = v;
            }, true)
          }
        />
      </div>
      <LeverSlider lever="search" motion={motion} />
    </details>
  );
}
