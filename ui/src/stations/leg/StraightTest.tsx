import { useEffect, useState } from "react";
import { fetched, type Limb, type Project, posted } from "@/api/client";
import { inWords } from "@/bench/holding";
import { Choice } from "@/controls/Choice";
import { Fold } from "@/controls/Fold";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { shown, withUnit } from "@/look/number";
import { type LineView, useClamp } from "./clampStore";

const LINES = [
  ["up_down", "Up and down"],
  ["fore_aft", "Fore and aft"],
  ["sideways", "Sideways"],
  ["mixed", "All mixed"],
] as const;

interface Props {
  project: Project;
  limb: Limb;
  foot: [number, number, number];
}

/** Send the foot along a line and see whether it goes straight, with an error put in on purpose if wanted. */
export function StraightTest({ project, limb, foot }: Props) {
  const [line, setLine] = useState<string>("up_down");
  const [length, setLength] = useState(60);
  const [fault, setFault] = useState("none");
  const [amount, setAmount] = useState(2);
  const [refusal, setRefusal] = useState("");
  const found = useClamp((s) => s.line);
  const [kind, part] = fault.split("/");
  // What the answer on screen was asked for: another question makes it old.
  const asked = JSON.stringify([project.walker, limb.name, foot, line, length, fault, amount]);
  const [of, setOf] = useState("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: another leg starts without an error
  useEffect(() => setFault("none"), [limb.name]);
  const run = async () => {
    const drawn = limb.links.find((k) => k.name === part)?.length_mm ?? 0;
    const body = {
      project,
      limb: limb.name,
      foot_mm: foot,
      sole: useClamp.getState().sole,
      line,
      length_mm: length,
      link_length_mm: kind === "link" ? { [part]: Math.max(0, drawn + amount) } : {},
      joint_zero_deg: kind === "zero" ? { [part]: amount } : {},
      joint_play_deg: kind === "play" ? { [part]: Math.abs(amount) } : {},
    };
    try {
      const answer = await fetched("/api/straight", posted(body));
      useClamp.setState({ line: (await answer.json()) as LineView });
      setRefusal("");
      setOf(asked);
    } catch (error) {
      setRefusal(inWords(error));
    }
  };
  return (
    <Fold name="Straight-line test">
      <Choice
        label="Line"
        value={line}
        choices={LINES.map(([name, label]) => ({ name, label }))}
        onValue={(chosen) => setLine(chosen)}
      />
      <NumberBox label="Length" value={length} unit="mm" step={5} min={1} max={2000} onValue={setLength} />
      <Choice label="Error put in" value={fault} onValue={(chosen) => setFault(chosen)}>
        <option value="none">None</option>
        {limb.links.map((k) => (
          <option key={k.name} value={`link/${k.name}`}>
            {k.name} longer, mm
          </option>
        ))}
        {limb.joints.map((j) => (
          <option key={j.name} value={`zero/${j.name}`}>
            {j.name} zero off, °
          </option>
        ))}
        {limb.joints.map((j) => (
          <option key={j.name} value={`play/${j.name}`}>
            {j.name} play, °
          </option>
        ))}
      </Choice>
      {fault !== "none" && (
        <NumberBox
          label="How much"
          value={amount}
          unit={kind === "link" ? "mm" : "°"}
          step={0.5}
          min={kind === "play" ? 0 : -20}
          max={20}
          onValue={setAmount}
        />
      )}
      <button type="button" className="do" onClick={() => void run()}>
        Run the foot along it
      </button>
      <Refused why={refusal} />
      {found && of === asked && <Outcome line={found} />}
      {found && of !== asked && <p className="hint">Something has changed since; run it again.</p>}
    </Fold>
  );
}

function Outcome({ line }: { line: LineView }) {
  return (
    <div className="outcome" role="status">
      <p>
        {line.worst_mm < 0.005 ? (
          <b>Straight.</b>
        ) : (
          <>
            <b>Off straight by {withUnit(line.worst_mm, "mm", 2)}</b>, most at {withUnit(line.worst_at_mm, "mm")}.
          </>
        )}
        {line.shift_mm >= 0.05 &&
          ` The whole line lies ${withUnit(line.shift_mm, "mm", 1)} from where it was asked for.`}
        {line.lean_deg > 0.05 && ` The whole line leans ${shown(line.lean_deg, 1)}°.`}
      </p>
      <p>
        {line.limited
          ? `${line.limited} at ${withUnit(line.limited_at_mm ?? 0, "mm")}; clear over ${withUnit(line.clear_mm, "mm")}.`
          : "Nothing stops it on the way."}
      </p>
      <Trace line={line} />
    </div>
  );
}

/** How far off, along the line. */
function Trace({ line }: { line: LineView }) {
  const [width, height] = [292, 56];
  const top = Math.max(0.01, ...line.off_mm);
  const first = line.along_mm[0];
  const span = line.along_mm[line.along_mm.length - 1] - first || 1;
  const d = line.along_mm.map((a, n) => {
    const u = ((a - first) / span) * (width - 8) + 4;
    const v = height - 14 - (line.off_mm[n] / top) * (height - 22);
    return `${n ? "L" : "M"}${u.toFixed(1)} ${v.toFixed(1)}`;
  });
  return (
    <svg
      className="line-trace"
      width={width}
      height={height}
      role="img"
      aria-label={`Off straight along the line, at most ${top.toFixed(2)} mm`}
    >
      <path className="axis-line" d={`M4 ${height - 14}H${width - 4}`} />
      <path d={d.join("")} />
      <text x="4" y={height - 2}>
        {withUnit(first, "mm")}
      </text>
      <text x={width - 4} y={height - 2} textAnchor="end">
        {withUnit(first + span, "mm")}
      </text>
    </svg>
  );
}
