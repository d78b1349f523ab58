/** What goes with the cycle strip: how its bars are dragged, who is in the air together, pauses, and a picture to print. */
import { useMemo, useState } from "react";
import Form from "react-bootstrap/Form";
import { download, fetched, type Motion, type Project, posted } from "@/api/client";
import { editMotion, useBench } from "@/bench/store";
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
      <Form.Group controlId="snap" className="inline-select">
        <Form.Label>Snap to</Form.Label>
        <Form.Select
          size="sm"
          value={snap}
          onChange={(event) => useStripWays.setState({ snap: Number(event.target.value) })}
        >
          {SNAPS.map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
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

/** Which legs are in the air together, and for how much of the cycle; neighbours are named first. */
export function Together() {
  const picture = useBench((s) => s.picture);
  const lines = useMemo(() => {
    if (!picture) return [];
    const { samples, legs, data } = picture;
    const found = new Map<string, number>();
    let planted = 0;
    for (let k = 0; k < samples; k++) {
      const up = legs.flatMap((l, n) => (l.role === "leg" && data.contact[k * legs.length + n] < 0.5 ? [l.name] : []));
      if (up.length === 0) planted++;
      else found.set(up.join(" "), (found.get(up.join(" ")) ?? 0) + 1);
    }
    const rows = [...found].sort((a, b) => b[1] - a[1]).slice(0, 6);
    return [["all down", planted] as [string, number], ...rows].map(([who, n]) => ({ who, share: n / samples }));
  }, [picture]);
  if (!lines.length) return null;
  return (
    <fieldset className="together">
      <legend>In the air together, share of the cycle</legend>
      {lines.map((l) => (
        <p key={l.who}>
          <span>{l.who}</span>
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
      setSaid((error as Error).message);
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
