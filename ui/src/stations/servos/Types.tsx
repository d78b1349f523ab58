/** The sheets of the servo types this walker uses, all of each. */
import type { Project } from "@/api/client";
import { FieldForm } from "@/fields/FieldForm";

const USUAL = {
  stall_current_a: { usual: 2 },
  running_current_a: { usual: 0.4 },
  idle_current_a: { usual: 0.01 },
  least_v: { usual: 4.8 },
  most_v: { usual: 7.4 },
  pulse_low_us: { usual: 500, unsaid: "by its travel" },
  pulse_high_us: { usual: 2500, unsaid: "by its travel" },
  us_per_deg: { usual: 10, unsaid: "10, assumed" },
  spline_teeth: { usual: 25 },
  full_torque_at_deg: { usual: 5, unsaid: "5, assumed" },
};

export function Types({ project }: { project: Project }) {
  return (
    <div className="supply">
      {project.servo_types.map((type, n) => (
        <section key={`type ${n + 1}`}>
          <h3>{type.name}</h3>
          <FieldForm of="ServoType" at={["servo_types", n]} told={USUAL} about={type.name} columns={2} />
        </section>
      ))}
    </div>
  );
}
