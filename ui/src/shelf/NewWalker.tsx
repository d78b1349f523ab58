import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useNavigate } from "react-router";
import { useCatalogue } from "@/api/catalogue";
import { client, type SavedWalker, type Schemas, told } from "@/api/client";
import { search, stopSearch } from "@/api/searches";
import Button from "@/controls/Button";
import { Choice } from "@/controls/Choice";
import { BODY_SHAPES, FewWays } from "@/controls/FewWays";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { Switch } from "@/controls/Switch";
import { Working } from "@/controls/Working";
import { shown, withUnit } from "@/look/number";
import DRAWN from "./shapes.json";

type Shape = Schemas["ShapeOption"];
type Numbers = NonNullable<Schemas["NewWalker"]["own"]>;

const DRAWINGS = DRAWN.shapes as Record<string, { body: number[][]; limbs: number[][] }>;

/** A walker from a starting shape, in its own proportions or by one's own numbers. All of it can be changed later. */
export function NewWalker({ onHide }: { onHide: () => void }) {
  const catalogue = useCatalogue();
  const shapes = catalogue?.shapes ?? [];
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState("six_sprawled");
  const [length, setLength] = useState<number | null>(null);
  const [own, setOwn] = useState<Numbers | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const shape = shapes.find((s) => s.name === chosen);
  const long = length ?? shape?.usual_mm ?? 220;
  const make = useMutation({
    mutationFn: () => {
      const called = name.trim() || "New walker";
      const body = own
        ? { name: called, own, shape: null, leg_length_mm: null, project: null }
        : { name: called, own: null, shape: chosen, leg_length_mm: long, project: null };
      // By one's own numbers a trot is tried in dry runs.
      if (own) return search("/api/walkers", body).then((answer) => answer.json() as Promise<SavedWalker>);
      return told<SavedWalker>(client.POST("/api/walkers", { body }));
    },
    onSuccess: async (walker) => {
      await queries.invalidateQueries({ queryKey: ["shelf"] });
      navigate(`/walkers/${walker.id}/frame`);
    },
    onError: (error) => setFault(error.message),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setFault(null);
    make.mutate();
  };
  const leave = () => {
    if (make.isPending) stopSearch("own_numbers");
    onHide();
  };
  const take = (s: Shape) => {
    setChosen(s.name);
    setLength(null);
    setOwn(null);
  };
  return (
    <Modal show onHide={leave} aria-labelledby="new-title" size="xl" scrollable>
      <Form onSubmit={submit} noValidate className="new-walker">
        <Modal.Header closeButton>
          <Modal.Title id="new-title">New walker</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <fieldset className="shape-choice">
            <legend>It begins as</legend>
            {[...new Set(shapes.map((s) => s.group))].map((group) => (
              <div key={group} className="shape-group" role="group" aria-label={group}>
                {shapes
                  .filter((s) => s.group === group)
                  .map((s) => (
                    <label key={s.name} className={s.name === chosen ? "shape chosen" : "shape"}>
                      <input type="radio" name="shape" checked={s.name === chosen} onChange={() => take(s)} />
                      <ShapePicture name={s.name} />
                      <span>{s.label}</span>
                    </label>
                  ))}
              </div>
            ))}
          </fieldset>
          <section className="new-numbers" aria-label="Its numbers">
            {shape && (
              <>
                <h3>{shape.label}</h3>
                {!own && <p className="hint">{shape.about}</p>}
              </>
            )}
            <label className="name-field" htmlFor="new-name">
              Name
              <Form.Control
                id="new-name"
                size="sm"
                value={name}
                maxLength={60}
                placeholder="New walker"
                onChange={(e) => setName(e.target.value)}
              />
            </label>
            {!own && shape && (
              <NumberBox
                label="Leg length, hip to foot when straight"
                value={long}
                unit="mm"
                step={5}
                min={shape.low_mm}
                max={shape.high_mm}
                onValue={setLength}
              />
            )}
            {shape?.family && (
              <Switch
                label="I have my own numbers"
                value={own !== null}
                onValue={(on) => setOwn(on ? numbersOf(shape, long, catalogue) : null)}
              />
            )}
            {own && <OwnNumbers own={own} onOwn={setOwn} />}
            <p className="hint">Everything can be changed at the frame, and limbs added there.</p>
          </section>
        </Modal.Body>
        <Modal.Footer>
          <div className="what-became">
            <Refused why={fault} />
            <Working kind="own_numbers" busy={make.isPending && own !== null} />
          </div>
          <Button variant="outline-dark" onClick={leave}>
            Leave it
          </Button>
          <Button type="submit" variant="dark" disabled={make.isPending}>
            {make.isPending ? "Making it …" : "Make it"}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

/** The proportions of a shape as numbers, to be overwritten. */
const SHARES: Record<string, number[]> = {
  sprawled_3: [0.22, 0.3, 0.48],
  sprawled_2: [0.25, 0.75],
  upright_3: [0.18, 0.5, 0.5],
  upright_2: [0.18, 0.5, 0.5],
};

function numbersOf(shape: Shape, long: number, catalogue: Schemas["Catalogue"] | undefined): Numbers {
  const links = catalogue?.families.find((f) => f.name === shape.family)?.links.length ?? 3;
  const shares = SHARES[shape.family] ?? Array(links).fill(1 / links);
  const round = shape.placed === "round";
  const across = Math.round(long * (round ? 0.8 : shape.legs === 6 ? 0.95 : 0.7));
  return {
    family: shape.family,
    legs: shape.legs,
    placed: round ? "round" : "sides",
    body: round ? "round" : "box",
    body_mm: [across, round ? across : Math.round(long * 0.5), Math.round(long * 0.2)],
    links_mm: shares.map((share) => Math.round(long * share)),
    servo: null,
    frame_g: null,
  };
}

function OwnNumbers({ own, onOwn }: { own: Numbers; onOwn: (own: Numbers) => void }) {
  const catalogue = useCatalogue();
  const { data, error } = useLooks(own);
  const family = catalogue?.families.find((f) => f.name === own.family);
  const round = own.body === "round";
  const body = (axis: number, value: number) => {
    const next: [number, number, number] = [...own.body_mm];
    next[axis] = value;
    if (round && axis === 0) next[1] = value;
    onOwn({ ...own, body_mm: next });
  };
  return (
    <>
      <NumberBox
        label="Legs"
        value={own.legs}
        unit=""
        step={own.placed === "sides" ? 2 : 1}
        min={3}
        max={12}
        onValue={(v) => onOwn({ ...own, legs: Math.round(v) })}
      />
      <FewWays
        label="Legs stand"
        ways={[
          ["sides", "Along two sides"],
          ["round", "Evenly round"],
        ]}
        value={own.placed}
        onValue={(placed) => onOwn({ ...own, placed })}
      />
      <FewWays
        label="The body is"
        ways={BODY_SHAPES}
        value={own.body}
        onValue={(shape) =>
          onOwn({
            ...own,
            body: shape,
            body_mm: shape === "round" ? [own.body_mm[0], own.body_mm[0], own.body_mm[2]] : own.body_mm,
          })
        }
      />
      <fieldset className="form-fields columns-3">
        <legend>Body</legend>
        {(round ? ["across", "", "high"] : ["long", "wide", "high"]).map(
          (label, axis) =>
            label && (
              <NumberBox
                key={label}
                label={label}
                about="Body"
                value={own.body_mm[axis]}
                unit="mm"
                step={5}
                min={10}
                max={1500}
                onValue={(v) => body(axis, v)}
              />
            ),
        )}
      </fieldset>
      <fieldset className="form-fields columns-3">
        <legend>Links, joint to joint</legend>
        {family?.links.map((link, n) => (
          <NumberBox
            key={link.name}
            label={link.label}
            value={own.links_mm[n]}
            unit="mm"
            step={1}
            min={n === 0 ? 0 : 1}
            max={1000}
            onValue={(v) => onOwn({ ...own, links_mm: own.links_mm.map((was, k) => (k === n ? v : was)) })}
          />
        ))}
      </fieldset>
      <Choice
        label="Servos"
        value={own.servo ?? ""}
        none={data ? `of ${withUnit(data.stall_nm, "N·m", 2)}` : "as is usual"}
        choices={(catalogue?.servo_types ?? []).map((s) => ({
          name: s.name,
          label: `${withUnit(s.stall_torque_nm, "N·m", 2)}, ${s.name}`,
        }))}
        onValue={(servo) => onOwn({ ...own, servo: servo || null })}
      />
      {data && (
        <NumberBox
          label="Frame, boards and pack weigh"
          value={own.frame_g ?? data.frame_g}
          unit="g"
          step={10}
          min={10}
          max={50_000}
          onValue={(frame_g) => onOwn({ ...own, frame_g })}
        />
      )}
      <Looks data={data} error={error} />
    </>
  );
}

function useLooks(own: Numbers) {
  return useQuery({
    queryKey: ["drawn", own],
    queryFn: () => told<Schemas["MachineLines"]>(client.POST("/api/walkers/drawn", { body: { own } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** How a machine by these numbers looks and stands, drawn anew as they are typed. */
function Looks({ data, error }: { data: Schemas["MachineLines"] | undefined; error: Error | null }) {
  if (error)
    return (
      <p className="fault" role="alert">
        {error.message}
      </p>
    );
  if (!data) return null;
  return (
    <figure className="looks">
      {data.against && (
        <p className="against" role="status">
          <i className="mark stop" aria-hidden="true" /> {data.against}
        </p>
      )}
      <Drawn lines={data} />
      <figcaption>
        Stands {withUnit(data.high_mm, "mm", 0)} high, its feet {shown(data.long_mm, 0)} ×{" "}
        {withUnit(data.wide_mm, "mm", 0)} apart.
      </figcaption>
    </figure>
  );
}

function ShapePicture({ name }: { name: string }) {
  return DRAWINGS[name] ? <Drawn lines={DRAWINGS[name]} /> : null;
}

function Drawn({ lines: drawn }: { lines: { body: number[][]; limbs: number[][] } }) {
  return (
    <svg viewBox="0 0 120 84" className="shape-picture" aria-hidden="true">
      {drawn.limbs.map((limb) => (
        <polyline key={limb.join()} points={limb.join(" ")} />
      ))}
      {drawn.body.map((rim) => (
        <polygon key={rim.join()} points={rim.join(" ")} />
      ))}
      {drawn.limbs.map((limb) => (
        <circle key={limb.join()} cx={limb.at(-2)} cy={limb.at(-1)} r="2.6" />
      ))}
    </svg>
  );
}
