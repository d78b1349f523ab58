/** The listed masses, and all of the one that is picked. Links and servos have their own, counted in the total. */
import type { Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { edit, pick } from "@/bench/store";
import { Figures } from "@/controls/Figures";
import { Remove } from "@/controls/Remove";
import { FieldForm } from "@/fields/FieldForm";
import { mass as weight } from "@/look/number";

/** Everything a mass can ride on. */
export function partsOf(project: Project): { name: string; label: string }[] {
  const links = project.walker.limbs.flatMap((l) => l.links.map((k) => `${l.name}/${k.name}`));
  return [...project.walker.sections.map((s) => s.name), ...links].map((name) => ({
    name,
    label: name.replace("/", " "),
  }));
}

export function MassPanel({ project }: { project: Project }) {
  const { masses } = project.walker;
  const chosen = Math.min(
    useBench((s) => s.picked.index),
    masses.length - 1,
  );
  const add = () => {
    edit((draft) => {
      const taken = new Set(draft.walker.masses.map((m) => m.name));
      let n = 1;
      while (taken.has(`Mass ${n}`)) n++;
      draft.walker.masses.push({
        name: `Mass ${n}`,
        mass_g: 50,
        at_mm: [0, 0, 0],
        on: draft.walker.sections[0].name,
        size_mm: [0, 0, 0],
        fills: false,
        price: 0,
        print_h: 0,
      });
    }, true);
    pick("mass", masses.length);
  };
  const mass = masses[chosen];
  return (
    <>
      <ul className="pick-list">
        {masses.map((m, n) => (
          <li key={m.name}>
            <button
              type="button"
              className={n === chosen ? "chosen" : undefined}
              aria-pressed={n === chosen}
              onClick={() => pick("mass", n)}
            >
              <span>{m.name}</span>
              <b>{weight(m.mass_g)}</b>
            </button>
            <Remove
              label={`Remove ${m.name}`}
              onRemove={() => edit((draft) => void draft.walker.masses.splice(n, 1), true)}
            />
          </li>
        ))}
      </ul>
      <button type="button" className="do" onClick={add}>
        Add a mass
      </button>
      {mass && (
        <FieldForm
          key={mass.name}
          of="Mass"
          at={["walker", "masses", chosen]}
          fields={["name", "mass_g", "at_mm", "on", "fills", ...(mass.fills ? [] : ["size_mm"]), "price", "print_h"]}
          told={{ on: { choices: partsOf(project) } }}
          about={mass.name}
          legend={mass.name}
        />
      )}
      <Figures at="frame" />
    </>
  );
}
