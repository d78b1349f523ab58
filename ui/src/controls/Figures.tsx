/** Computed figures, each of which opens its working: the formula with this walker's numbers in it. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import { client, type Schemas, told } from "@/api/client";
import { figure } from "@/api/picture";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { mass, withUnit } from "@/look/number";

/** at: a station, or a place at one ("stride/ground"). */
export function Figures({ at }: { at: string }) {
  const picture = useBench((s) => s.picture);
  const names = (useCatalogue()?.figures ?? []).filter((f) => f.stations.includes(at)).map((f) => f.name);
  const [open, setOpen] = useState<string | null>(null);
  return (
    <dl className="figures">
      {names.map((name) => {
        const found = figure(picture, name);
        if (!found) return null;
        const shown = name === "mass_g" ? mass(found.value) : withUnit(found.value, found.unit, found.digits);
        return (
          <div key={name} className={found.stale ? "figure stale" : "figure"}>
            <dt>{found.label}</dt>
            <dd>
              <button
                type="button"
                aria-expanded={open === name}
                title="Show the working"
                onClick={() => setOpen(open === name ? null : name)}
              >
                {shown}
                <span className="visually-hidden"> show the working</span>
              </button>
            </dd>
            {open === name && <Working name={name} time={found.time_s} />}
          </div>
        );
      })}
    </dl>
  );
}

function Working({ name, time }: { name: string; time: number | null }) {
  const project = useBench((s) => s.pictured);
  const motion = useBench((s) => s.motion);
  const { data } = useQuery({
    queryKey: ["working", name, motion, project],
    queryFn: () =>
      told<Schemas["Working"]>(client.POST("/api/working", { body: { project: project!, motion, figure: name } })),
    enabled: project !== null,
    placeholderData: (before) => before,
    gcTime: 10_000,
  });
  return (
    <dd className="working" aria-busy={!data}>
      {data?.lines.map((line) => (
        <span key={line}>{line}</span>
      ))}
      {time !== null && (
        <button type="button" className="link-button" onClick={() => playhead.seek(time)}>
          Go to {time.toFixed(2)} s
        </button>
      )}
    </dd>
  );
}
