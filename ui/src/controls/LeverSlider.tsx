/** A lever: its number, unit and slider, the track showing where no stop finding fires. */
import { memo, useId } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Project, Schemas } from "@/api/client";
import { useBands } from "@/bench/bands";
import { gaitOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { commit, editMotion } from "@/bench/store";
import { digitsOf, roundTo } from "@/look/number";
import { LEVERS, type LeverHand, type LeverName } from "./levers";
import { NumberBox } from "./NumberBox";

interface Props {
  lever: LeverName;
  /** The number alone, beside the lever it belongs to. */
  plain?: boolean;
}

/** Drawn anew where its own number changes, and not with every other. */
export const LeverSlider = memo(function LeverSlider({ lever, plain }: Props) {
  const spec = useCatalogue()?.levers.find((l) => l.name === lever);
  if (!spec) return null;
  const Drawn = plain ? Turned : Slider;
  return <Drawn spec={spec} hand={LEVERS[lever]} />;
});

/** The lever's number in the gait on screen. */
function useLever(hand: LeverHand): number {
  return useBench((s) => {
    const motion = s.draft ? gaitOf(s.draft, s.motion) : undefined;
    return s.draft && motion ? Math.round(hand.read(motion, s.draft) * 1000) / 1000 : 0;
  });
}

interface HandProps {
  spec: Schemas["LeverOption"];
  hand: LeverHand;
}

/** Long legs have long levers: what is usual is meant for one of this length. */
const USUAL_LEG_MM = 220;

function legLength(project: Project | null): number {
  const lengths = project?.walker.limbs.map((l) => l.links.reduce((sum, k) => sum + k.length_mm, 0)) ?? [];
  return Math.max(USUAL_LEG_MM, ...lengths);
}

function Turned({ spec, hand }: HandProps) {
  const value = useLever(hand);
  return (
    <NumberBox
      label={spec.label}
      value={value}
      unit={spec.unit}
      step={spec.step}
      min={spec.typed[0]}
      max={spec.typed[1]}
      onValue={(v) => editMotion((m, draft) => hand.write(m, v, draft), true)}
    />
  );
}

function Slider({ spec, hand }: HandProps) {
  const id = useId();
  const value = useLever(hand);
  const longer = useBench((s) => legLength(s.draft)) / USUAL_LEG_MM;
  const reach = spec.unit === "mm" ? Math.round(longer * 10) / 10 : 1;
  const low = Math.min(spec.low < 0 ? spec.low * reach : spec.low, value);
  const high = Math.max(spec.high * reach, value);
  const bands = useBands(spec.name, low, high);
  const place = (v: number) => `${((v - low) / (high - low || 1)) * 100}%`;
  // What is typed is kept as typed; only the slider goes in steps.
  const change = (next: number, now: boolean) => editMotion((m, draft) => hand.write(m, next, draft), now);
  return (
    <div className="lever" data-lever={spec.name}>
      <NumberBox
        id={`${id}n`}
        label={spec.label}
        value={value}
        unit={spec.unit}
        step={spec.step}
        min={spec.typed[0]}
        max={spec.typed[1]}
        onValue={(v) => change(v, true)}
      />
      <div className="track">
        <div className="rail" aria-hidden="true">
          {bands?.map(([a, b]) => (
            <span key={a} className="sound" style={{ left: place(a), right: `calc(100% - ${place(b)})` }} />
          ))}
        </div>
        <input
          type="range"
          aria-label={`${spec.label}, slider`}
          aria-valuetext={`${value.toFixed(digitsOf(spec.step))} ${spec.unit}${bands ? bandText(bands, value) : ""}`}
          min={low}
          max={high}
          step={spec.step}
          value={value}
          onPointerDown={() => useBench.setState({ dragging: true })}
          onChange={(event) => change(roundTo(Number(event.target.value), spec.step / 10), false)}
          onPointerUp={commit}
          onKeyUp={commit}
          onBlur={commit}
        />
      </div>
    </div>
  );
}

function bandText(bands: [number, number][], value: number): string {
  return bands.some(([a, b]) => value >= a - 1e-9 && value <= b + 1e-9) ? ", sound" : ", a stop finding fires";
}
