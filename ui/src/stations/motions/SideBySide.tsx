/** Any two motions by the same figures. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, type Project, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";
import { Choice } from "@/controls/Choice";
import { withUnit } from "@/look/number";

export function SideBySide({ project }: { project: Project }) {
  const motion = useBench((s) => s.motion);
  const pictured = useBench((s) => s.pictured);
  const others = project.motions.filter((m) => m.name !== motion).map((m) => m.name);
  const [chosen, setChosen] = useState("");
  const other = others.includes(chosen) ? chosen : others[0];
  const { data, error } = useQuery({
    queryKey: ["changes", other, motion, pictured],
    queryFn: () =>
      told<Schemas["Changes"]>(
        client.POST("/api/changes", {
          body: { before: pictured!, before_motion: other, project: pictured!, motion },
        }),
      ),
    enabled: pictured !== null && other !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  });
  if (!other) return <p className="hint">There is no other motion to put beside it.</p>;
  return (
    <>
      <Choice label={`Beside ${motion}`} value={other} onValue={(chosen) => setChosen(chosen)}>
        {others.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Choice>
      {error && <p className="hint">{error.message}</p>}
      {data && (
        <table className="set-table">
          <thead>
            <tr>
              <th scope="col">Figure</th>
              <th scope="col">{other}</th>
              <th scope="col">{motion}</th>
            </tr>
          </thead>
          <tbody>
            {data.changes.map((c) => (
              <tr key={c.label}>
                <th scope="row">{c.label}</th>
                <td>{withUnit(c.before, c.unit, c.digits)}</td>
                <td>{withUnit(c.after, c.unit, c.digits)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data && data.changes.length === 0 && <p className="hint">No figure differs.</p>}
      {data && (data.new.length > 0 || data.gone.length > 0) && (
        <p className="hint">
          {data.new.length > 0 && `Only ${motion}: ${data.new.join(", ")}. `}
          {data.gone.length > 0 && `Only ${other}: ${data.gone.join(", ")}.`}
        </p>
      )}
    </>
  );
}
