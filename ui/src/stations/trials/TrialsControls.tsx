import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, type Motion, type Project, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { Caution } from "@/controls/Caution";
import { Choice } from "@/controls/Choice";
import { Maybe } from "@/controls/Maybe";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { TextBox } from "@/controls/TextBox";
import { shown } from "@/look/number";
import { begunAnew, type Trial, useLog, useReread, useTyped } from "./log";

const FAR_MM = 100_000;

/** A trial is written down while it is fresh: what it was asked, what it did. */
export function TrialsControls({ project }: { project: Project; motion: Motion }) {
  const motion = useBench((s) => s.motion);
  const saved = useBench((s) => s.saved);
  const saveState = useBench((s) => s.saveState);
  const typed = useTyped();
  const log = useLog();
  const reread = useReread();
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const put = (change: Partial<Trial>) => {
    useTyped.setState(change);
    setSaid("");
  };
  const walker = saved?.id ?? 0;
  const written = useWritten(walker, motion);
  // What the controller plays is what was written last; else what is saved.
  const known = [...new Set([saved?.number ?? 1, ...written])].sort((a, b) => b - a);
  const chosen = typed.chosen?.walker === walker ? typed.chosen.revision : 0;
  const revision = known.includes(chosen) ? chosen : (written[0] ?? known[0]);
  const asked = useTold(walker, revision, motion, typed.time_s);
  const share = asked ? typed.time_s / asked.time_s : 1;
  const legs = project.walker.limbs.filter((limb) => limb.feet?.length);

  const write = async () => {
    if (!saved) return;
    if (!typed.floor) {
      setSaid("Say what it walked on first.");
      return;
    }
    setBusy(true);
    try {
      const { chosen: _, ...said } = typed;
      const body = { revision, trial: { ...said, motion } };
      const params = { path: { walker_id: saved.id } };
      const line = await told<Schemas["TrialLine"]>(client.POST("/api/walkers/{walker_id}/trials", { params, body }));
      setSaid(`Trial ${line.number} is in the log.`);
      begunAnew();
      await reread();
    } catch (error) {
      setSaid(inWords(error));
    }
    setBusy(false);
  };

  return (
    <>
      <p className="hint">
        {motion}, revision {revision}
        {asked?.along_mm != null && ` · told: ${shown(asked.along_mm)} mm in ${shown(asked.time_s, 1)} s`}
      </p>
      <div className="trial-form">
        {known.length > 1 && (
          <Choice
            label="It played"
            value={String(revision)}
            onValue={(number) => useTyped.setState({ chosen: { walker, revision: Number(number) } })}
          >
            {known.map((number) => (
              <option key={number} value={number}>
                revision {number}
                {written.includes(number) ? ", written as a table" : ", as saved"}
              </option>
            ))}
          </Choice>
        )}
        <div className="choice">
          <span>Walked on</span>
          <TextBox label="Walked on" value={typed.floor} mayBeEmpty onValue={(floor) => put({ floor })} />
        </div>
        {log?.floors.some((f) => f !== typed.floor) && (
          <p className="before">
            {log.floors.slice(0, 4).map((floor) => (
              <button key={floor} type="button" className="link-button" onClick={() => put({ floor })}>
                {floor}
              </button>
            ))}
          </p>
        )}
        <Switch label="It is soft or springy" value={typed.gives} onValue={(gives) => put({ gives })} />
        <NumberBox
          label="For"
          value={typed.time_s}
          unit="s"
          step={0.5}
          min={0.1}
          max={3600}
          onValue={(time_s) => put({ time_s })}
        />
        <Measured
          label="Along its way"
          unit="mm"
          value={typed.along_mm}
          usual={Math.round((asked?.along_mm ?? 0) * share)}
          step={5}
          most={FAR_MM}
          onValue={(along_mm) => put({ along_mm })}
        />
        <Measured
          label="Beside it, to the left"
          unit="mm"
          value={typed.beside_mm}
          usual={0}
          step={5}
          most={FAR_MM}
          onValue={(beside_mm) => put({ beside_mm })}
        />
        <Measured
          label="Turned, to the left"
          unit="°"
          value={typed.turned_deg}
          usual={Math.round((asked?.turned_deg ?? 0) * share)}
          step={1}
          most={36_000}
          onValue={(turned_deg) => put({ turned_deg })}
        />
        <NumberBox
          label="Caught or fell"
          value={typed.falls}
          unit="times"
          step={1}
          min={0}
          max={100}
          onValue={(v) => put({ falls: Math.round(v) })}
        />
        <fieldset className="dragged">
          <legend>Feet that caught or dragged</legend>
          {legs.map(({ name }) => {
            const on = typed.dragged.includes(name);
            return (
              <button
                key={name}
                type="button"
                className={on ? "foot on" : "foot"}
                aria-pressed={on}
                onClick={() =>
                  put({ dragged: on ? typed.dragged.filter((n) => n !== name) : [...typed.dragged, name] })
                }
              >
                {name}
              </button>
            );
          })}
        </fieldset>
        <Choice label="Soles" value={typed.soles} onValue={(soles) => put({ soles: soles as Trial["soles"] })}>
          <option value="as they were">as they were</option>
          <option value="cleaned">cleaned before it</option>
          <option value="new">new</option>
        </Choice>
        <Measured
          label="Pack afterwards"
          unit="V"
          value={typed.pack_v}
          usual={7.4}
          step={0.1}
          most={100}
          least={0.1}
          onValue={(pack_v) => put({ pack_v })}
        />
        <div className="choice">
          <span>Note</span>
          <TextBox label="Note" value={typed.note} mayBeEmpty onValue={(note) => put({ note })} />
        </div>
      </div>
      <button
        type="button"
        className="do primary"
        disabled={busy || saveState !== "saved"}
        onClick={() => void write()}
      >
        Log it
      </button>
      <p className="said-of-it" role="status">
        {said || (saveState !== "saved" ? "It can be logged once the draft is saved." : "")}
      </p>
      <Caution />
    </>
  );
}

interface MeasuredProps {
  label: string;
  unit: string;
  value: number | null;
  usual: number;
  step: number;
  most: number;
  least?: number;
  onValue: (value: number | null) => void;
}

function Measured({ label, unit, value, usual, step, most, least = -most, onValue }: MeasuredProps) {
  return (
    <Maybe
      label={label}
      said={value !== null}
      unsaid="not measured"
      onSet={() => onValue(usual)}
      onUnset={() => onValue(null)}
    >
      <NumberBox
        label={label}
        value={value ?? usual}
        unit={unit}
        step={step}
        min={least}
        max={most}
        onValue={onValue}
      />
    </Maybe>
  );
}

/** What a revision tells of as long, and how long that is: until it is told anew, as long as before. */
function useTold(
  walker: number,
  revision: number,
  motion: string,
  time_s: number,
): (Schemas["Planned"] & { time_s: number }) | undefined {
  return useQuery({
    queryKey: ["planned-trial", walker, revision, motion, time_s],
    queryFn: async () => {
      const params = { path: { walker_id: walker } };
      const body = { revision, motion, time_s };
      const { planned } = await told<Schemas["PlannedView"]>(
        client.POST("/api/walkers/{walker_id}/planned-trial", { params, body }),
      );
      return { time_s, ...planned };
    },
    enabled: walker > 0,
    retry: false,
    placeholderData: (before) => before,
    gcTime: 10_000,
  }).data;
}

/** The revisions of which a table of a motion was written, the last first. */
function useWritten(walker: number, motion: string): number[] {
  const found = useQuery({
    queryKey: ["exports", walker],
    queryFn: () =>
      told<Schemas["Exports"]>(
        client.GET("/api/walkers/{walker_id}/exports", { params: { path: { walker_id: walker } } }),
      ),
    enabled: walker > 0,
  }).data;
  return [...new Set((found?.exports ?? []).filter((e) => e.motion === motion).map((e) => e.revision))];
}
