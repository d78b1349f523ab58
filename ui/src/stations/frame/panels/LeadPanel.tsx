/** Servo and sensor leads: how long each is, and how much slack it keeps. */
import type { Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Remove } from "@/controls/Remove";
import { FieldForm } from "@/fields/FieldForm";

export function LeadPanel({ project }: { project: Project }) {
  const { leads } = project.walker;
  const index = useBench((s) => s.picked.index);
  return (
    <>
      <p className="hint">A lead is held at each joint it passes, and hangs free between them.</p>
      {leads.map((lead, n) => (
        <div key={lead.name} className={n === index ? "optional picked-lead" : "optional"}>
          <FieldForm
            of="Lead"
            at={["walker", "leads", n]}
            fields={["length_mm"]}
            told={{ length_mm: { label: lead.name, step: 5 } }}
          />
          <Remove
            label={`Remove lead ${lead.name}`}
            onRemove={() => edit((d) => void d.walker.leads.splice(n, 1), true)}
          />
        </div>
      ))}
      {leads.length > 0 && <FieldForm of="Limits" at={["limits"]} fields={["lead_slack_mm"]} />}
      <Choice label="Add a lead to" value="" onValue={add}>
        <option value="" disabled>
          choose …
        </option>
        {project.walker.limbs.flatMap((l) =>
          l.links.map((link) => (
            <option key={`${l.name}/${link.name}`} value={`${l.name}/${link.name}`}>
              {l.name} {link.name}
            </option>
          )),
        )}
      </Choice>
    </>
  );
}

function add(part: string): void {
  const [limb, link] = part.split("/");
  edit((d) => {
    const found = d.walker.limbs.find((l) => l.name === limb);
    if (!found) return;
    const way = found.links.slice(0, found.links.findIndex((l) => l.name === link) + 1);
    const taken = new Set(d.walker.leads.map((l) => l.name));
    let name = `${limb} ${link} lead`;
    for (let n = 2; taken.has(name); n++) name = `${limb} ${link} lead ${n}`;
    d.walker.leads.push({
      name,
      length_mm: 200,
      path: [
        { on: found.section, at_mm: [0, 0, 0] },
        ...way.map((l) => ({ on: `${limb}/${l.name}`, at_mm: [0, 0, 0] as [number, number, number] })),
      ],
    });
  }, true);
}
