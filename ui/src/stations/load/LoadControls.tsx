/** What loads rest on and what makes up for them: the hold against sag, the floor, the servos' sheets, each servo's share. */
import { useCatalogue } from "@/api/catalogue";
import type { Motion, Project, Schemas } from "@/api/client";
import { limbOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { LegPicker } from "@/controls/LegPicker";
import { FieldForm } from "@/fields/FieldForm";
import { shown } from "@/look/number";
import { LoadTrace } from "./LoadTrace";
import { TenMinutes } from "./TenMinutes";

const HOLDS = [
  { name: "off", label: "no, as planned" },
  { name: "static", label: "weight alone" },
  { name: "full", label: "weight and motion" },
];

export function LoadControls({ project }: { project: Project; motion: Motion }) {
  const picture = useBench((s) => s.picture);
  const leg = useBench((s) => s.leg);
  const load = picture?.load;
  const soles = useCatalogue()?.soles ?? [];
  const limb = limbOf(project, leg);
  const own = load?.servos.filter((s) => s.limb === leg) ?? [];
  const types = new Set(
    project.walker.drives
      .filter((d) => d.joints.some((j) => j.startsWith(`${leg}/`)))
      .flatMap((d) => d.servos.map((s) => s.type)),
  );
  return (
    <>
      <Choice
        label="Held against sag"
        value={project.against_sag}
        choices={HOLDS}
        onValue={(how) =>
          edit((d) => {
            d.against_sag = how as Project["against_sag"];
          }, true)
        }
      />
      <Figures at="load" />
      {load?.not_told && <p className="hint">Not judged: {load.not_told}.</p>}
      {limb && <LegPicker />}
      {own.length > 0 && (
        <table className="load-table">
          <thead>
            <tr>
              <th scope="col">{leg}</th>
              <th scope="col">peak</th>
              <th scope="col">at</th>
              <th scope="col">all along</th>
              <th scope="col">lags</th>
            </tr>
          </thead>
          <tbody>
            {own.map((s) => (
              <tr key={s.place}>
                <th scope="row">{s.joint}</th>
                <td className={s.peak > 1 ? "over" : undefined}>{Math.round(100 * s.peak)} %</td>
                <td>{s.peak_s.toFixed(2)} s</td>
                <td className={s.held > project.limits.held_share ? "over" : undefined}>
                  {Math.round(100 * s.held)} %
                </td>
                <td>{shown(s.lag_deg, 1)}°</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {picture?.data.load_share && own.length > 0 && (
        <LoadTrace picture={picture} leg={leg} limit={project.limits.held_share} />
      )}
      {project.servo_types.map(
        (type, n) =>
          types.has(type.name) && (
            <FieldForm
              key={type.name}
              of="ServoType"
              at={["servo_types", n]}
              fields={["stall_torque_nm", "full_torque_at_deg", "rotor"]}
              told={{
                full_torque_at_deg: { usual: 5, unsaid: "5, assumed" },
                rotor: { usual: { mass_g: 2, radius_mm: 4, ratio: 250 }, unsaid: "30 ms to speed, assumed" },
              }}
              about={type.name}
            />
          ),
      )}
      <FieldForm
        of="Floor"
        at={["floor"]}
        fields={["friction", "friction_across", "friction_note", "gives_mm_per_n", "bounces"]}
        told={{
          friction: { usual: 0.6, unsaid: "0.6, assumed", step: 0.05 },
          friction_across: { usual: 0.6, unsaid: "as ahead", step: 0.05 },
        }}
      />
      <Choice
        label="Soles, by the table"
        value=""
        none="choose …"
        choices={soles.map((s) => ({ name: s.name, label: `${s.label}: ${s.low} to ${s.high}` }))}
        onValue={(name) => takeSole(soles.find((s) => s.name === name))}
      />
      {limb && (
        <FieldForm
          of="Limb"
          at={["walker", "limbs", project.walker.limbs.indexOf(limb)]}
          fields={["gives_mm_per_n"]}
          told={{ gives_mm_per_n: { usual: 0.02, unsaid: "0.02, assumed", step: 0.01 } }}
          about={leg}
        />
      )}
      {project.walker.held === "boom" && <FieldForm of="Walker" at={["walker"]} fields={["lifted_n"]} />}
      <FieldForm of="Limits" at={["limits"]} fields={["held_share"]} />
      <TenMinutes project={project} />
      {load && load.assumed.length > 0 && <p className="hint">Assumed, not measured: {load.assumed.join("; ")}.</p>}
    </>
  );
}

/** The low end of a range is what one can be sure of. */
function takeSole(sole: Schemas["SoleOption"] | undefined): void {
  if (!sole) return;
  edit((d) => {
    d.floor.friction = sole.low;
    d.floor.friction_across = null;
    d.floor.friction_note = `${sole.label}, low end of ${sole.low} to ${sole.high}`;
  }, true);
}
