import { useQuery } from "@tanstack/react-query";
import { useCatalogue } from "@/api/catalogue";
import { client, type Motion, type Project, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { setChoice, useCompare } from "./compareStore";

/** Up to three machines to stand beside this one: starting shapes of any size, or walkers from the shelf. */
export function CompareControls(_props: { project: Project; motion: Motion }) {
  const shapes = useCatalogue()?.shapes ?? [];
  const own = useBench((s) => s.saved?.id);
  const choices = useCompare((s) => s.choices);
  const shelf = useQuery({
    queryKey: ["shelf", false],
    queryFn: () => told<Schemas["Shelf"]>(client.GET("/api/walkers", { params: { query: { archived: false } } })),
  }).data?.walkers.filter((w) => w.id !== own && w.motions.length > 0);
  return (
    <>
      <p className="hint">
        Each walks its first walk once. Torque is what the joints hold if the feet that are down share the weight; it is
        no substitute for a load test.
      </p>
      {choices.map((choice, n) => (
        // The place in the list is what tells one choice from another.
        <fieldset key={String(n)} className="rival">
          <legend>Beside it, {n + 1}</legend>
          <Choice
            quiet
            label={`Machine ${n + 1}`}
            value={choice.walker_id ? `walker/${choice.walker_id}` : `shape/${choice.shape}`}
            onValue={(chosen) => {
              const [kind, name] = chosen.split("/");
              if (kind === "walker") setChoice(n, { walker_id: Number(name), shape: null, leg_length_mm: null });
              else setChoice(n, { shape: name, leg_length_mm: choice.leg_length_mm ?? 200, walker_id: null });
            }}
          >
            <optgroup label="Starting shapes">
              {shapes.map((s) => (
                <option key={s.name} value={`shape/${s.name}`}>
                  {s.label}
                </option>
              ))}
            </optgroup>
            <optgroup label="From the shelf">
              {shelf?.map((w) => (
                <option key={w.id} value={`walker/${w.id}`}>
                  {w.name}
                </option>
              ))}
            </optgroup>
          </Choice>
          {choice.shape && choice.leg_length_mm != null && (
            <NumberBox
              label="Leg length"
              value={choice.leg_length_mm}
              unit="mm"
              step={5}
              min={60}
              max={600}
              onValue={(v) => setChoice(n, { ...choice, leg_length_mm: v })}
            />
          )}
          <button type="button" className="link-button" onClick={() => setChoice(n, null)}>
            Take it away
          </button>
        </fieldset>
      ))}
      {choices.length < 3 && (
        <button
          type="button"
          className="do mt-2"
          onClick={() => setChoice(choices.length, { shape: "four_upright", leg_length_mm: 200, walker_id: null })}
        >
          Put another beside it
        </button>
      )}
    </>
  );
}
