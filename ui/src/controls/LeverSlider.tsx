/** A lever: its number, unit and slider, the track showing where no stop finding fires. */
import { useId } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Motion, Schemas } from "@/api/client";
import { useBands } from "@/bench/bands";
import { useBench } from "@/bench/state";
import { commit, editMotion } from "@/bench/store";
import { digitsOf, roundTo } from "@/look/number";
import { LEVERS, type LeverHand, type LeverName } from "./levers";
import { NumberBox } from "./NumberBox";

export function LeverSlider({ lever, motion }: { lever: LeverName; motion: Motion }) {
  const spec = useCatalogue()?.levers.find((l) => l.name === lever);
  return spec ? <Slider spec={spec} hand={LEVERS[lever]} motion={motion} /> : null;
}

function Slider({ spec, hand, motion }: { spec: Schemas["LeverOption"]; hand: LeverHand; motion: Motion }) {
  const id = useId();
  const value = hand.read(motion);
  const low = Math.min(spec.low, value);
  const high = Math.max(spec.high, value);
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
