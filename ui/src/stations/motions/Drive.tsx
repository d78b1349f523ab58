/** A drive pad: the stick's deflection runs the plan live; the walker on the mat walks what it asks for. */

import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Project, Schemas } from "@/api/client";
import { decode, figure, type Picture } from "@/api/picture";
import { search } from "@/api/searches";
import { gaitOf } from "@/bench/edits";
import { inWords } from "@/bench/holding";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { evaluate, replaceDraft, showPicture } from "@/bench/store";
import { Caution } from "@/controls/Caution";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { shown, withUnit } from "@/look/number";
import { atRest, LONGEST_S, REST, RuleDrive, type Stick } from "./ruleDrive";

const SIZE = 150;
const R = SIZE / 2 - 12;
const STEP = 0.1;

export function Drive({ project }: { project: Project }) {
  const [stick, setStick] = useState<Stick>(REST);
  const [school, setSchool] = useState("shorter_steps");
  const [free, setFree] = useState(false);
  const [lift, setLift] = useState<number | null>(null);
  const [ride, setRide] = useState<number | null>(null);
  const [refusal, setRefusal] = useState("");
  const [picture, setPicture] = useState<Picture | null>(null);
  const held = useRef(false);
  const running = useRef(false);
  const waiting = useRef<[string, object] | null>(null);
  const rule = useRef(new RuleDrive());
  // How long an answer takes, s.
  const lag = useRef(0.15);

  const ask = async (path: string, body: object) => {
    waiting.current = [path, body];
    if (running.current) return;
    running.current = true;
    while (waiting.current) {
      const next = waiting.current;
      waiting.current = null;
      try {
        const asked = performance.now();
        const answer = await search(next[0], next[1]);
        const found = decode(await answer.arrayBuffer());
        lag.current = Math.min(1, (performance.now() - asked) / 1000 + 0.05);
        const here = playhead.time;
        showPicture(found);
        if (!found.repeats) playhead.seek(Math.min(here, found.cycle_s - 0.001));
        setPicture(found);
        setRefusal("");
      } catch (error) {
        setRefusal(inWords(error));
      }
    }
    running.current = false;
  };
  const base = gaitOf(project, useBench.getState().motion);
  const steer = (next: Stick, way = school, up = lift, high = ride, byRule = free) => {
    const keep = (n: number) => Math.round(Math.min(1, Math.max(-1, n)) * 100) / 100;
    const put = { ahead: keep(next.ahead), left: keep(next.left), turn: keep(next.turn) };
    setStick(put);
    if (byRule) {
      turnByRule(put);
      return;
    }
    if (atRest(put)) playhead.stop();
    else playhead.play();
    void ask("/api/drive", { project, ...put, school: way, lift_mm: up, ride_height_mm: high });
  };
  const tellByRule = () => {
    const { sticks, takes_s } = rule.current;
    void ask("/api/drive-by-rule", { project, sticks, takes_s });
  };
  /** What was walked so far stays; from here on the legs lift for the new way. */
  const turnByRule = (put: Stick) => {
    if (!rule.current.begun || rule.current.over(playhead.time)) {
      if (atRest(put)) return;
      rule.current = new RuleDrive();
      playhead.stop();
      playhead.seek(0);
    }
    if (!rule.current.put(put, playhead.time, lag.current)) {
      setRefusal(`${LONGEST_S} s driven. Keep it, or stop and begin again.`);
      return;
    }
    tellByRule();
    playhead.play();
  };
  const keepDriven = async () => {
    const { sticks, takes_s } = rule.current;
    try {
      const answer = await search("/api/driven", { project, sticks, takes_s });
      const added = (await answer.json()) as Schemas["AddedView"];
      rule.current = new RuleDrive();
      playhead.stop();
      setPicture(null);
      setStick(REST);
      replaceDraft(added.project, added.name);
    } catch (error) {
      setRefusal(inWords(error));
    }
  };
  // With the stick held the way goes on; once everything stands the drive is over.
  useEffect(() => {
    if (!free) return;
    return playhead.subscribe((time) => {
      if (!rule.current.begun || !playhead.playing || running.current) return;
      if (rule.current.goesOn(time)) tellByRule();
      else if (rule.current.over(time)) playhead.stop();
    });
  });
  // Leaving the pad gives the mat back to the open motion.
  useEffect(
    () => () => {
      playhead.stop();
      evaluate();
    },
    [],
  );
  const pull = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - box.left - SIZE / 2) / R;
    const y = (event.clientY - box.top - SIZE / 2) / R;
    const size = Math.max(1, Math.hypot(x, y));
    steer({ ...stick, ahead: -y / size, left: -x / size });
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowUp: [STEP, 0], ArrowDown: [-STEP, 0], ArrowLeft: [0, STEP], ArrowRight: [0, -STEP] }[event.key];
    if (by) steer({ ...stick, ahead: stick.ahead + by[0], left: stick.left + by[1] });
    else if (event.key === "q" || event.key === "e")
      steer({ ...stick, turn: stick.turn + (event.key === "q" ? STEP : -STEP) });
    else if (event.key === "Escape" || event.key === "0") steer(REST);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const strokes = picture?.legs.filter((l) => l.role === "leg") ?? [];
  const most = Math.max(1, ...strokes.map((l) => l.stroke_mm));
  const speed = figure(picture, "speed_mm_s");
  const turn = figure(picture, "turn_deg");
  const way = figure(picture, "way_mm");
  const share = figure(picture, "way_share");
  return (
    <div className="drive">
      <div className="drive-pad">
        <svg
          width={SIZE}
          height={SIZE}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the pad is driven by keys
          tabIndex={0}
          role="application"
          aria-label="Drive pad: arrow keys ahead, back, left, right; Q and E turn; 0 stops"
          onKeyDown={key}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            held.current = true;
            pull(event);
          }}
          onPointerMove={(event) => held.current && pull(event)}
          onPointerUp={() => {
            held.current = false;
            steer({ ...REST, turn: stick.turn });
          }}
        >
          <circle className="pad-edge" cx={SIZE / 2} cy={SIZE / 2} r={R} />
          <path className="pad-cross" d={`M${SIZE / 2} 12V${SIZE - 12}M12 ${SIZE / 2}H${SIZE - 12}`} />
          <circle className="pad-knob" cx={SIZE / 2 - stick.left * R} cy={SIZE / 2 - stick.ahead * R} r="11" />
        </svg>
        <div className="drive-side">
          <label htmlFor="drive-turn">Turn, left to right</label>
          <input
            id="drive-turn"
            type="range"
            min={-1}
            max={1}
            step={0.05}
            value={-stick.turn}
            aria-valuetext={`${shown(stick.turn * 100)} % to the left`}
            onChange={(event) => steer({ ...stick, turn: -Number(event.target.value) })}
            onKeyUp={(event) => event.key === "0" && steer(REST)}
          />
          <Choice
            label="Less stick means"
            disabled={free}
            value={school}
            onValue={(chosen) => {
              setSchool(chosen);
              steer(stick, chosen);
            }}
          >
            <option value="shorter_steps">shorter steps</option>
            <option value="slower_pace">a slower pace</option>
          </Choice>
          <div className="row-of-buttons">
            <button type="button" className="do" onClick={() => steer(REST)}>
              Stop
            </button>
            {free && (
              <button type="button" className="do" disabled={!rule.current.begun} onClick={() => void keepDriven()}>
                Keep it
              </button>
            )}
          </div>
        </div>
      </div>
      <Switch
        label="Legs lift by the next-leg rule, not by a gait"
        value={free}
        onValue={(on) => {
          setFree(on);
          rule.current = new RuleDrive();
          steer(stick, school, lift, ride, on);
        }}
      />
      {base && !free && (
        <div className="number-grid">
          <NumberBox
            label="Lift while driving"
            value={lift ?? base.lift_mm}
            unit="mm"
            step={1}
            min={0}
            max={1000}
            onValue={(v) => {
              setLift(v);
              steer(stick, school, v);
            }}
          />
          <NumberBox
            label="Ride height while driving"
            value={ride ?? base.pose.ride_height_mm}
            unit="mm"
            step={1}
            min={1}
            max={3000}
            onValue={(v) => {
              setRide(v);
              steer(stick, school, lift, v);
            }}
          />
        </div>
      )}
      <Caution />
      <p className="drive-state" role="status">
        {refusal ||
          (picture && free
            ? `${withUnit(way?.value ?? 0, "mm")} walked by ${shown(picture.cycle_s, 1)} s${
                share ? `, ${withUnit(share.value, "%", 0)} of what the stick asked for` : ""
              }${picture.findings.length ? `. ${picture.findings[0].message}` : ". Sound."}`
            : picture
              ? `${speed ? withUnit(speed.value, "mm/s") : ""}${turn?.value ? `, ${shown(turn.value / picture.cycle_s, 1)}°/s` : ""}, a step every ${picture.cycle_s.toFixed(2)} s${
                  picture.findings.length ? `. ${picture.findings[0].message}` : ". Sound."
                }`
              : "Move the stick.")}
      </p>
      {picture && most > 1 && (
        <ul className="strokes" aria-label="Stroke of each leg">
          {strokes.map((l) => (
            <li key={l.name}>
              <span>{l.name}</span>
              <i style={{ width: `${(l.stroke_mm / most) * 100}%` }} />
              <b>{withUnit(l.stroke_mm, "mm")}</b>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
