import { Link, useLocation } from "react-router";
import type { Motion, Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { STATIONS } from "@/stations";
import type { Station } from "@/stations/station";

type Mark = "stop" | "warn" | "well";

const WORDS: Record<Mark, string> = { stop: "a stop finding", warn: "a warning", well: "nothing found" };

/** The stations in the order of work, each with its state and its one key figure. */
export function Rail({ station, project, motion }: { station: Station; project: Project; motion?: Motion }) {
  const picture = useBench((s) => s.picture);
  const { search } = useLocation();
  const walker = useBench((s) => s.saved?.id);
  const mark = (codes: string[]): Mark => {
    const found = picture?.findings.filter((f) => codes.includes(f.code)) ?? [];
    return found.some((f) => f.severity === "stop")
      ? "stop"
      : found.some((f) => f.severity === "warn")
        ? "warn"
        : "well";
  };
  const groups = [...new Set(STATIONS.map((s) => s.group))];
  return (
    <nav className="rail-nav" aria-label="Stations">
      {groups.map((group) => (
        <section key={group} aria-label={group}>
          <h2>{group}</h2>
          {STATIONS.filter((s) => s.group === group).map((s) => {
            const state = mark(s.codes);
            return (
              <Link
                key={s.name}
                to={`/walkers/${walker}/${s.name}${search}`}
                className={s === station ? "on" : undefined}
                aria-current={s === station ? "page" : undefined}
              >
                <i className={`mark ${state}`} aria-hidden="true" />
                <b>{s.label}</b>
                <span>{s.key(project, motion, picture)}</span>
                <span className="visually-hidden">, {WORDS[state]}</span>
              </Link>
            );
          })}
        </section>
      ))}
    </nav>
  );
}
