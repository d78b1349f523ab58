/** Power-on: servos let go a few at a time into a known pose, and where to go when the radio is lost. */
import { useQuery } from "@tanstack/react-query";
import Form from "react-bootstrap/Form";
import { client, type Project, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Caution } from "@/controls/Caution";
import { NumberBox } from "@/controls/NumberBox";
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
  const start = project.start_up;
  return (
    <>
      <Caution />
      {(["pose", "fail_safe"] as const).map((field) => (
        <Form.Group key={field} controlId={`start-${field}`} className="inline-select">
          <Form.Label>{field === "pose" ? "Starts into" : "Radio lost: into"}</Form.Label>
          <Form.Select
            size="sm"
            value={start[field] ?? ""}
            onChange={(event) =>
              edit((draft) => {
                draft.start_up[field] = event.target.value || null;
              }, true)
            }
          >
            <option value="">{field === "pose" ? "the first standing pose" : "the starting pose"}</option>
            {project.motions.map((m) => (
              <option key={m.name}>{m.name}</option>
            ))}
          </Form.Select>
        </Form.Group>
      ))}
      <div className="number-grid">
        <NumberBox
          label="Servos at a time"
          value={start.at_once}
          unit=""
          step={1}
          min={1}
          max={84}
          onValue={(v) =>
            edit((draft) => {
              draft.start_up.at_once = Math.round(v);
            }, true)
          }
        />
        <NumberBox
          label="Time allowed at"
          value={start.speed_deg_s}
          unit="°/s"
          step={5}
          min={1}
          max={2000}
          onValue={(v) =>
            edit((draft) => {
              draft.start_up.speed_deg_s = v;
            }, true)
          }
        />
      </div>
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
