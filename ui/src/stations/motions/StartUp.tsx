/** Power-on: servos let go a few at a time into a known pose, and where to go when the radio is lost. */

import { useQuery } from "@tanstack/react-query";
import { client, type Project, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";
import { Caution } from "@/controls/Caution";
import { FieldForm } from "@/fields/FieldForm";
import { withUnit } from "@/look/number";

export function StartUp({ project }: { project: Project }) {
  const pictured = useBench((s) => s.pictured);
  const { data, error } = useQuery({
    queryKey: ["soft-start", pictured],
    queryFn: () => told<Schemas["StartView"]>(client.POST("/api/soft-start", { body: { project: pictured! } })),
    enabled: pictured !== null,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  });
  const motions = project.motions.map((m) => ({ name: m.name, label: m.name }));
  return (
    <>
      <Caution />
      <FieldForm
        of="StartUp"
        at={["start_up"]}
        fields={["pose", "fail_safe", "at_once", "speed_deg_s"]}
        told={{
          pose: { choices: motions, unsaid: "the first standing pose" },
          fail_safe: { choices: motions, unsaid: "the starting pose" },
          speed_deg_s: { step: 5 },
        }}
      />
      {error && <p className="hint">{error.message}</p>}
      {data && (
        <>
          <p className="hint">
            Into {data.pose} in {data.takes_s.toFixed(1)} s
            {data.inrush_a !== null && `, up to ${data.inrush_a.toFixed(1)} A at a time`}. Worst travel of each:
          </p>
          <ol className="switches">
            {data.switches.map((s) => (
              <li key={s.servo}>
                <span>{s.at_s.toFixed(1)} s</span>
                <span>{s.servo}</span>
                <b>{withUnit(s.travel, s.unit)}</b>
              </li>
            ))}
          </ol>
        </>
      )}
    </>
  );
}
