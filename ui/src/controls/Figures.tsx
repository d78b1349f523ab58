/** Computed figures, each of which opens its working: the formula with this walker's numbers in it. */
import { useState } from "react";
import { figure } from "@/api/picture";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { mass, withUnit } from "@/look/number";

export function Figures({ names }: { names: string[] }) {
  const picture = useBench((s) => s.picture);
  const [open, setOpen] = useState<string | null>(null);
  return (
    <dl className="figures">
      {names.map((name) => {
        const found = figure(picture, name);
        if (!found) return null;
        const shown = name === "mass_g" ? mass(found.value) : withUnit(found.value, found.unit, found.digits);
        const time = found.time_s;
        return (
          <div key={name} className="figure">
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
            {open === name && (
              <dd className="working">
                {found.working.map((line) => (
                  <span key={line}>{line}</span>
                ))}
                {time !== null && (
                  <button type="button" className="link-button" onClick={() => playhead.seek(time)}>
                    Go to {time.toFixed(2)} s
                  </button>
                )}
              </dd>
            )}
          </div>
        );
      })}
    </dl>
  );
}
