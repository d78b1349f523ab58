/** The sheets of the servo types this walker uses, all of each; out and in as CSV. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import { client, fetched, type Project, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { FileButton } from "@/controls/FileButton";
import { Remove } from "@/controls/Remove";
import { FieldForm } from "@/fields/FieldForm";

const USUAL = {
  stall_current_a: { usual: 2 },
  running_current_a: { usual: 0.4 },
  idle_current_a: { usual: 0.01 },
  least_v: { usual: 4.8 },
  most_v: { usual: 7.4 },
  pulse_low_us: { usual: 500, unsaid: "by its travel" },
  pulse_high_us: { usual: 2500, unsaid: "by its travel" },
  us_per_deg: { usual: 10, unsaid: "10, assumed", unit: "µs/°" },
  spline_teeth: { usual: 25 },
  full_torque_at_deg: { usual: 5, unsaid: "5, assumed" },
};

export function Types({ project }: { project: Project }) {
  const walker = useBench((s) => s.saved?.id);
  const kept = useQuery({
    queryKey: ["library"],
    queryFn: () => told<Schemas["Library"]>(client.GET("/api/library/servo-types")),
  });
  const library = kept.data?.servo_types ?? [];
  const common = useCatalogue()?.servo_types ?? [];
  const usual = [
    ...library.map((k) => k.sheet),
    ...common.filter((t) => !library.some((k) => k.sheet.name === t.name)),
  ];
  const [taken, setTaken] = useState<Schemas["KeptSheet"] | null>(null);
  const [said, setSaid] = useState("");
  const used = new Set([
    ...project.walker.drives.flatMap((d) => d.servos.map((s) => s.type)),
    ...project.electrics.items.map((i) => i.type),
  ]);
  const take = async (chosen: File) => {
    try {
      const answer = await fetched("/api/servo-types", {
        method: "POST",
        headers: { "Content-Type": "text/csv" },
        body: await chosen.text(),
      });
      const found = (await answer.json()) as Schemas["ServoTypes"];
      edit((draft) => {
        for (const type of found.servo_types) {
          const at = draft.servo_types.findIndex((t) => t.name === type.name);
          if (at < 0) draft.servo_types.push(type);
          else draft.servo_types[at] = type;
        }
      }, true);
      setSaid(`Took in ${found.servo_types.map((t) => t.name).join(", ")}.`);
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  const keep = async (sheet: Project["servo_types"][number], instead_of: string | null = null) => {
    setTaken(null);
    const answer = await client.POST("/api/library/servo-types", { body: { sheet, instead_of } });
    if (answer.data) setSaid(`${sheet.name} is kept in the library, for every walker.`);
    else {
      const refused = answer.error as Partial<Schemas["SheetTaken"]>;
      setSaid(refused.detail ?? "The library does not answer.");
      setTaken(refused.kept ?? null);
    }
    await kept.refetch();
  };
  const takeOut = async (name: string) => {
    await client.DELETE("/api/library/servo-types/{name}", { params: { path: { name } } });
    setSaid(`${name} is out of the library; walkers that use it keep their copy.`);
    await kept.refetch();
  };
  const add = (like: Project["servo_types"][number]) =>
    edit((draft) => {
      const names = new Set(draft.servo_types.map((t) => t.name));
      let name = like.name;
      for (let n = 2; names.has(name); n++) name = `${like.name} ${n}`;
      draft.servo_types.push({ ...structuredClone(like), name });
    }, true);
  return (
    <>
      <div className="row-of-buttons">
        <FileButton label="Servo types as CSV" accept=".csv" onFile={(chosen) => void take(chosen)}>
          Take in a CSV
        </FileButton>
        <a className="do" href={`/api/walkers/${walker}/servo-types`} download>
          Save as CSV
        </a>
        <Choice
          label="Add a type like"
          value=""
          none="choose …"
          disabled={project.servo_types.length >= 40}
          choices={[...project.servo_types, ...usual].map((t, n) => ({ name: String(n), label: t.name }))}
          onValue={(n) => add([...project.servo_types, ...usual][Number(n)])}
        />
      </div>
      <p className="said-line" role="status">
        {said}{" "}
        {taken && (
          <button
            type="button"
            className="link-button"
            onClick={() => {
              const own = project.servo_types.find((t) => t.name === taken.sheet.name);
              if (own) void keep(own, taken.hash);
            }}
          >
            Replace it
          </button>
        )}
      </p>
      {library.length > 0 && (
        <ul className="on-none" aria-label="In the library">
          <li>In the library:</li>
          {library.map((k) => (
            <li key={k.sheet.name}>
              {k.sheet.name}{" "}
              <Remove label={`Take ${k.sheet.name} out of the library`} onRemove={() => void takeOut(k.sheet.name)} />
            </li>
          ))}
        </ul>
      )}
      <div className="supply">
        {project.servo_types.map((type, n) => (
          <section key={`type ${n + 1}`}>
            <h3>
              {type.name}{" "}
              <button type="button" className="do" onClick={() => void keep(type)}>
                Keep in the library
              </button>{" "}
              {!used.has(type.name) && (
                <Remove
                  label={`Remove ${type.name}`}
                  onRemove={() =>
                    edit((draft) => {
                      draft.servo_types.splice(n, 1);
                    }, true)
                  }
                />
              )}
            </h3>
            <FieldForm of="ServoType" at={["servo_types", n]} told={USUAL} about={type.name} columns={2} />
          </section>
        ))}
      </div>
    </>
  );
}
