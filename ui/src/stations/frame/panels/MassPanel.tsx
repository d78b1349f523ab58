/** The listed masses, and all of the one that is picked. Links and servos have their own, counted in the total. */
import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { Figures } from "@/controls/Figures";
import { FieldForm } from "@/fields/FieldForm";
import { mass as weight } from "@/look/number";
import { PickList, useChosen } from "../PickList";

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
  const chosen = useChosen(masses);
  const mass = masses[chosen];
  return (
    <>
      <PickList
        kind="mass"
        things={masses}
        shows={(n) => weight(masses[n].mass_g)}
        add="Add a mass"
        called="Mass"
        onAdd={(name) =>
          edit((draft) => {
            draft.walker.masses.push({
              name,
              mass_g: 50,
              at_mm: [0, 0, 0],
              on: draft.walker.sections[0].name,
              size_mm: [0, 0, 0],
              fills: false,
              price: 0,
              print_h: 0,
            });
          }, true)
        }
        onRemove={(n) => edit((draft) => void draft.walker.masses.splice(n, 1), true)}
      />
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
