import { memo } from "react";
import { Link, useLocation } from "react-router";
import { useCatalogue } from "@/api/catalogue";
import type { Motion, Project } from "@/api/client";
import { useDryRun } from "@/bench/dryRuns";
import { useBench } from "@/bench/state";
import { open } from "@/bench/unjudged";
import { STATIONS } from "@/stations";
import type { Station } from "@/stations/station";

type Mark = "stop" | "warn" | "well" | "open" | "checking";

const WORDS: Record<Mark, string> = {
  stop: "a stop finding",
  warn: "a warning",
  well: "nothing found",
  open: "not judged",
  checking: "checking",
};

/** The stations in the order of work, each with its state and its one key figure. */
export function Rail({ station, project, motion }: { station: Station; project: Project; motion?: Motion }) {
  const picture = useBench((s) => s.picture);
  const { search } = useLocation();
  const walker = useBench((s) => s.saved?.id);
  const judgements = useCatalogue()?.judgements ?? [];
  const dry = useDryRun();
  /** A station's mark, and whether it is from before the hand began to move. */
  const mark = ({ name, told }: Station): { state: Mark; old: boolean } => {
    const codes = judgements.filter((j) => j.stations.includes(name)).map((j) => j.code);
    // What could not be judged before is not waited for.
    const old = !picture || codes.some((c) => picture.checking.includes(c) && !picture.judged[c]);
    const found = picture?.findings.filter((f) => codes.includes(f.code)) ?? [];
    const worst = found.find((f) => f.severity === "stop") ?? found.find((f) => f.severity === "warn");
    if (worst) return { state: worst.severity as Mark, old: worst.checking === true };
    if (name === "balance" && dry.run?.goes_badly) return { state: "warn", old: dry.old };
    // Hollow too where nothing that is at home here could be judged: that never looks well.
    const home = judgements.filter((j) => j.stations[0] === name);
    const none =
      (home.length > 0 && home.every((j) => picture?.judged[j.code])) || (picture && told?.(picture) === false);
    const hollow = none || judgements.some((j) => codes.includes(j.code) && picture && open(j, picture.judged));
    return { state: old ? "checking" : hollow ? "open" : "well", old };
  };
  const groups = [...new Set(STATIONS.map((s) => s.group))];
  return (
    <nav className="rail-nav" aria-label="Stations">
      {groups.map((group) => (
        <section key={group} aria-label={group}>
          <h2>{group}</h2>
          {STATIONS.filter((s) => s.group === group).map((s) => {
            const { state, old } = mark(s);
            return (
              <Entry
                key={s.name}
                to={`/walkers/${walker}/${s.name}${search}`}
                on={s === station}
                label={s.label}
                figure={s.key(project, motion, picture)}
                state={state}
                old={old}
              />
            );
          })}
        </section>
      ))}
    </nav>
  );
}

interface EntryProps {
  to: string;
  on: boolean;
  label: string;
  figure: string;
  state: Mark;
  old: boolean;
}

// A number and its unit stay on one line.
const UNIT_AFTER = /(\d) (?=[a-z%°])/gi;

const Entry = memo(function Entry({ to, on, label, figure, state, old }: EntryProps) {
  return (
    <Link to={to} className={on ? "on" : undefined} aria-current={on ? "page" : undefined}>
      <i className={`mark ${state}${old ? " old" : ""}`} aria-hidden="true" />
      <b>{label}</b>
      <span>{figure.replace(UNIT_AFTER, "$1\u00a0")}</span>
      <span className="visually-hidden">
        , {old && state !== "checking" ? `${WORDS[state]}, checking` : WORDS[state]}
      </span>
    </Link>
  );
});
