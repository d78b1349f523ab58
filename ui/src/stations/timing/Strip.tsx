/** What goes with the cycle strip: how its bars are dragged, who is in the air together, pauses, and a picture to print. */

import { useMemo, useState } from "react";
import { download, fetched, type Motion, type Project, posted } from "@/api/client";
import { legsOf } from "@/bench/edits";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { useStripWays } from "./stripWays";

const SNAPS: [number, string][] = [
  [0, "not at all"],
  [24, "24ths"],
  [12, "12ths"],
  [8, "8ths"],
  [6, "6ths"],
  [4, "quarters"],
];

/** Lock legs together, and snap to fractions of the cycle. */
export function StripWays({ motion }: { motion: Motion }) {
  const { snap, locked } = useStripWays();
  const leg = useBench((s) => s.leg);
  return (
    <fieldset className="strip-ways">
      <legend>Dragging bars in the strip</legend>
      <Choice
        label="Snap to"
        value={String(snap)}
        choices={SNAPS.map(([value, label]) => ({ name: String(value), label }))}
        onValue={(chosen) => useStripWays.setState({ snap: Number(chosen) })}
      />
      <div className="locks">
        <span>{leg} takes along</span>
        {motion.legs
          .filter((l) => l.limb !== leg)
          .map((l) => (
            <button
              key={l.limb}
              type="button"
              className={locked.includes(l.limb) ? "chip chosen" : "chip"}
              aria-pressed={locked.includes(l.limb)}
              onClick={() =>
                useStripWays.setState({
                  locked: locked.includes(l.limb) ? locked.filter((n) => n !== l.limb) : [...locked, l.limb],
                })
              }
            >
              {l.limb}
            </button>
          ))}
      </div>
    </fieldset>
  );
}

/** Legs next to each other on one side, by their mounts. */
function neighbours(project: Project): Set<string> {
  const pairs = new Set<string>();
  for (const side of [1, -1]) {
    const row = legsOf(project)
      .filter((l) => (l.mount.at_mm[1] >= 0 ? 1 : -1) === side)
      .sort((a, b) => b.mount.at_mm[0] - a.mount.at_mm[0]);
    for (let k = 1; k < row.length; k++) pairs.add(`${row[k - 1].name} ${row[k].name}`);
  }
  return pairs;
}

interface Together {
  who: string[];
  share: number;
  wrong: string;
}

/** Which legs are in the air together, and for how much of the cycle; what speaks against it is said. */
export function Together({ project }: { project: Project }) {
  const picture = useBench((s) => s.picture);
  const lines = useMemo((): Together[] => {
    if (!picture) return [];
    const { samples, legs, data } = picture;
    const beside = neighbours(project);
    const found = new Map<string, number>();
    for (let k = 0; k < samples; k++) {
      const up = legs.flatMap((l, n) => (l.role === "leg" && data.contact[k * legs.length + n] < 0.5 ? [l.name] : []));
      found.set(up.join(" "), (found.get(up.join(" ")) ?? 0) + 1);
    }
    const stepping = legs.filter((l) => l.role === "leg").length;
    const judge = (up: string[]): string => {
      const pair = [...beside].find((p) => p.split(" ").every((name) => up.includes(name)));
      if (pair) return `${pair.replace(" ", " and ")} are neighbours`;
      if (picture.balance === "static" && stepping > 2 && stepping - up.length < 3)
        return `${stepping - up.length} left to stand on, static needs 3`;
      return "";
    };
    return [...found]
      .sort((a, b) => b[1] - a[1])
      .slice(0, 7)
      .map(([text, n]) => {
        const who = text ? text.split(" ") : [];
        return { who, share: n / samples, wrong: judge(who) };
      });
  }, [picture, project]);
  if (!lines.length) return null;
  return (
    <fieldset className="together">
      <legend>In the air together, share of the cycle</legend>
      {lines.map((l) => (
        <p key={l.who.join(" ")} className={l.wrong ? "wrong" : undefined}>
          <span>
            {l.who.length ? l.who.join(" ") : "none, all stand"}
            {l.wrong && <small> {l.wrong}</small>}
          </span>
          <b>{Math.round(l.share * 100)} %</b>
        </p>
      ))}
    </fieldset>
  );
}

/** The walk stands still for a while: at a moment when all feet are down it stops and plants. */
export function Pauses({ motion }: { motion: Motion }) {
  const picture = useBench((s) => s.picture);
  const pauses = motion.pauses ?? [];
  const add = () => editMotion((m) => void m.pauses.push({ at: plantedShare(m), hold_s: 0.5 }), true);
  return (
    <fieldset className="pauses">
      <legend>Pauses</legend>
      {pauses.map((p, n) => (
        <div key={`${n} of ${pauses.length}`} className="number-grid links">
          <NumberBox
            label={`pause ${n + 1} at share`}
            value={p.at}
            unit=""
            step={0.01}
            min={0}
            max={0.999}
            onValue={(v) =>
              editMotion((m) => {
                m.pauses[n].at = v;
              }, true)
            }
          />
          <NumberBox
            label={`pause ${n + 1} for`}
            value={p.hold_s}
            unit="s"
            step={0.1}
            min={0.02}
            max={60}
            onValue={(v) =>
              editMotion((m) => {
                m.pauses[n].hold_s = v;
              }, true)
            }
          />
          <button
            type="button"
            className="link-button"
            aria-label={`Remove pause ${n + 1}`}
            onClick={() => editMotion((m) => void m.pauses.splice(n, 1), true)}
          >
            Remove
          </button>
        </div>
      ))}
      <button type="button" className="do" disabled={pauses.length >= 12 || !picture} onClick={add}>
        Stop and plant
      </button>
    </fieldset>
  );
}

/** The middle of the longest stretch in which every leg is down by its phase and duty; 0 where there is none. */
function plantedShare(motion: Motion): number {
  const looks = 400;
  const down = Array.from({ length: looks }, (_, k) =>
    motion.legs.every((l) => l.duty === 1 || (k / looks - l.phase + 1) % 1 < l.duty),
  );
  let best = [0, 0];
  for (let start = 0; start < looks; start++) {
    let n = 0;
    while (n < looks && down[(start + n) % looks]) n++;
    if (n > best[1]) best = [start, n];
  }
  return Math.round((((best[0] + best[1] / 2) % looks) / looks) * 1000) / 1000;
}

export function PrintContacts({ project, motion }: { project: Project; motion: Motion }) {
  const [said, setSaid] = useState("");
  const write = async () => {
    try {
      const name = await download(await fetched("/api/contacts", posted({ project, motion: motion.name })));
      setSaid(`Wrote ${name}.`);
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  return (
    <>
      <button type="button" className="do" onClick={() => void write()}>
        Contacts as a picture to print
      </button>
      <p className="hint" role="status">
        {said}
      </p>
    </>
  );
}
