import Form from "react-bootstrap/Form";
import { useCatalogue } from "@/api/catalogue";
import type { Motion, Project } from "@/api/client";
import {
  endsOf,
  limbOf,
  setHipOffset,
  setJointLimit,
  setLink,
  setMount,
  setMountTurn,
  setNeutral,
} from "@/bench/edits";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Figures } from "@/controls/Figures";
import { LegPicker } from "@/controls/LegPicker";
import { NumberBox } from "@/controls/NumberBox";
import { FreeChain, Held, LinkDetails, Sections } from "./Details";
import { Drives } from "./Drives";
import { Fits } from "./Fits";
import { Foot } from "./Foot";
import { Ledger } from "./Ledger";
import { Limbs } from "./Limbs";
import { Masses } from "./Masses";

/** "knee_up" → "Knee up". */
function spoken(key: string): string {
  const text = key.replaceAll("_", " ");
  return text[0].toUpperCase() + text.slice(1);
}

export function FrameControls({ project, motion }: { project: Project; motion: Motion }) {
  const leg = useBench((s) => s.leg);
  const mirrored = useBench((s) => s.mirrored);
  const family = useCatalogue()?.families.find((f) => f.name === limbOf(project, leg)?.family);
  const limb = limbOf(project, leg);
  if (!limb) return null;
  const [x, y] = limb.mount.at_mm;
  const change = (f: (draft: Project) => void) => edit(f, true);
  const label = (name: string) => family?.links.find((l) => l.name === name)?.label ?? spoken(name);
  const joint = (name: string) => family?.joints.find((j) => j.name === name)?.label ?? spoken(name);
  const over = (name: string) => family?.joints.find((j) => j.name === name)?.turns_over ?? false;
  return (
    <>
      <LegPicker />
      <Form.Check
        id="mirrored"
        type="switch"
        label="Mirror left and right, keep links alike"
        checked={mirrored}
        onChange={(event) => useBench.setState({ mirrored: event.target.checked })}
      />
      <fieldset className="number-grid links">
        <legend>
          {leg}, {family?.label ?? limb.family}
          {limb.neutral_mm ? " leg" : ""}
        </legend>
        {limb.links.map((link) => (
          <NumberBox
            key={link.name}
            label={label(link.name)}
            value={link.length_mm}
            unit="mm"
            step={0.5}
            min={0}
            max={2000}
            onValue={(v) => change((d) => setLink(d, leg, link.name, v, mirrored))}
          />
        ))}
      </fieldset>
      <fieldset className="number-grid stops">
        <legend className="visually-hidden">Where {leg} sits and stands</legend>
        <div className="pair head" aria-hidden="true">
          <i />
          <span>forward</span>
          <span>left</span>
        </div>
        <Place
          name="Mount"
          at={[x, y]}
          step={0.5}
          onPlace={(fx, fy) => change((d) => setMount(d, leg, fx, fy, mirrored))}
        />
        {limb.neutral_mm && (
          <Place
            name="Foot"
            at={limb.neutral_mm}
            step={1}
            onPlace={(fx, fy) => change((d) => setNeutral(d, leg, fx, fy, mirrored))}
          />
        )}
      </fieldset>
      <fieldset className="number-grid links">
        <legend className="visually-hidden">How {leg} is mounted</legend>
        <NumberBox
          label="Mount up"
          value={limb.mount.at_mm[2]}
          unit="mm"
          step={0.5}
          min={-1500}
          max={1500}
          onValue={(v) => change((d) => setMountTurn(d, leg, "up", v, mirrored))}
        />
        <NumberBox
          label="turned"
          value={limb.mount.yaw_deg}
          unit="°"
          step={1}
          min={-360}
          max={360}
          onValue={(v) => change((d) => setMountTurn(d, leg, "yaw", v, mirrored))}
        />
        {limb.neutral_mm && (
          <NumberBox
            label="Toes"
            value={limb.toe_deg}
            unit="°"
            step={1}
            min={-360}
            max={360}
            onValue={(v) => change((d) => setMountTurn(d, leg, "toe", v, mirrored))}
          />
        )}
      </fieldset>
      {(family?.branches.length ?? 2) > 1 && (
        <Form.Group controlId="branch" className="inline-select">
          <Form.Label>Knee</Form.Label>
          <Form.Select
            size="sm"
            value={limb.branch}
            onChange={(event) =>
              change((draft) => {
                for (const other of draft.walker.limbs)
                  if (other.name === leg || (mirrored && other.family === limb.family))
                    other.branch = event.target.value;
              })
            }
          >
            {(family?.branches ?? [limb.branch]).map((b) => (
              <option key={b} value={b}>
                {spoken(b)}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )}
      {limb.neutral_mm && family && family.keeps.length > 0 && (
        <Form.Group controlId="keep" className="inline-select">
          <Form.Label>Foot follows</Form.Label>
          <Form.Select
            size="sm"
            value={limb.keep ?? family.keeps[0].name}
            onChange={(event) =>
              change((draft) => {
                for (const other of draft.walker.limbs)
                  if (other.name === leg || (mirrored && other.family === limb.family)) other.keep = event.target.value;
              })
            }
          >
            {family.keeps.map((k) => (
              <option key={k.name} value={k.name}>
                {k.label}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )}
      {family?.takes_hip_offset && (
        <fieldset className="number-grid links">
          <legend>Hip offset, first joint to second</legend>
          {(["ahead", "left", "up"] as const).map((axis, k) => (
            <NumberBox
              key={axis}
              label={axis}
              value={limb.hip_offset_mm[k]}
              unit="mm"
              step={0.5}
              min={-500}
              max={500}
              onValue={(v) => change((d) => setHipOffset(d, leg, k, v, mirrored))}
            />
          ))}
        </fieldset>
      )}
      <fieldset className="number-grid stops">
        <legend>End stops</legend>
        {limb.joints.map((j) => (
          <div key={j.name} className="pair">
            <span>{joint(j.name)}</span>
            {(["low", "high"] as const).map((end) => (
              <NumberBox
                key={end}
                quiet
                label={`${joint(j.name)}, ${end}est`}
                value={endsOf(j)[end]}
                unit={endsOf(j).unit}
                step={1}
                min={-360}
                max={360}
                onValue={(v) => change((d) => setJointLimit(d, leg, j.name, end, v, mirrored, over(j.name)))}
              />
            ))}
          </div>
        ))}
      </fieldset>
      {family?.open && <FreeChain limb={limb} />}
      {limb.joints.length > 0 && !limb.feet.length && <Held limb={limb} motion={motion} />}
      <Limbs project={project} leg={leg} />
      <Foot limb={limb} alike={mirrored} />
      <LinkDetails limb={limb} alike={mirrored} />
      <Drives project={project} limb={limb} />
      <Sections project={project} motion={motion} limb={limb} />
      <Masses project={project} />
      <button
        type="button"
        className="do mt-2"
        onClick={() =>
          change((draft) => {
            const taken = new Set(draft.walker.masses.map((m) => m.name));
            let n = 1;
            while (taken.has(`Mass ${n}`)) n++;
            draft.walker.masses.push({
              name: `Mass ${n}`,
              mass_g: 50,
              at_mm: [0, 0, 0],
              on: "body",
              size_mm: [0, 0, 0],
              price: 0,
              print_h: 0,
            });
          })
        }
      >
        Add a mass
      </button>
      <Figures at="frame" />
      <Ledger project={project} />
      <Fits project={project} limb={limb} />
    </>
  );
}

interface PlaceProps {
  name: string;
  at: [number, number];
  step: number;
  onPlace: (x: number, y: number) => void;
}

/** A place on the plan as two numbers. */
function Place({ name, at, step, onPlace }: PlaceProps) {
  return (
    <div className="pair">
      <span>{name}</span>
      {(["forward", "left"] as const).map((side, k) => (
        <NumberBox
          key={side}
          quiet
          label={`${name} ${side}`}
          value={at[k]}
          unit="mm"
          step={step}
          min={-1500}
          max={1500}
          onValue={(v) => onPlace(k === 0 ? v : at[0], k === 1 ? v : at[1])}
        />
      ))}
    </div>
  );
}
