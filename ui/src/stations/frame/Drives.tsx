/** What turns each joint of the chosen limb: the kind of drive, its numbers, its servo and where that sits. */
import { useCatalogue } from "@/api/catalogue";
import type { Limb, Project } from "@/api/client";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";

type Drive = Project["walker"]["drives"][number];

const SHEET: [keyof Project["servo_types"][number], string, string, number, number][] = [
  ["mass_g", "Servo mass", "g", 1, 100000],
  ["stall_torque_nm", "Stall torque", "N·m", 0.1, 1000],
  ["no_load_speed_deg_s", "Speed without load", "°/s", 10, 10000],
  ["travel_deg", "Travel", "°", 5, 3600],
  ["play_deg", "Play", "°", 0.1, 20],
  ["price", "Price", "", 1, 1000000],
];

export function Drives({ project, limb }: { project: Project; limb: Limb }) {
  const kinds = useCatalogue()?.drives ?? [];
  const change = (index: number, apply: (drive: Project["walker"]["drives"][number]) => void) =>
    edit((draft) => apply(draft.walker.drives[index]), true);
  const own = project.walker.drives
    .map((drive, index) => ({ drive, index }))
    .filter(({ drive }) => drive.joints.some((j) => j.startsWith(`${limb.name}/`)));
  const parts = [...project.walker.sections.map((s) => s.name), ...limb.links.map((k) => `${limb.name}/${k.name}`)];
  return (
    <details className="fold">
      <summary>Drives and servos</summary>
      {own.map(({ drive, index }) => {
        const kind = kinds.find((k) => k.name === drive.kind);
        const fits = kinds.filter((k) => k.servos === drive.servos.length && k.joints === drive.joints.length);
        const title = drive.joints.map((j) => j.replace("/", " ")).join(" and ");
        return (
          <fieldset key={drive.joints.join()} className="drive">
            <legend>{title}</legend>
            <select
              className="form-select form-select-sm"
              aria-label={`Drive of ${title}`}
              value={drive.kind}
              onChange={(event) =>
                change(index, (d) => {
                  d.kind = event.target.value;
                  d.settings = {};
                })
              }
            >
              {fits.map((k) => (
                <option key={k.name} value={k.name}>
                  {k.label}
                </option>
              ))}
            </select>
            {kind?.settings.map((s) => (
              <NumberBox
                key={s.name}
                label={s.label}
                value={drive.settings[s.name] ?? s.default}
                unit={s.unit}
                step={0.5}
                min={s.low}
                max={s.high}
                onValue={(v) =>
                  change(index, (d) => {
                    d.settings[s.name] = v;
                  })
                }
              />
            ))}
            <NumberBox
              label="Horn stiffness, 0 for stiff"
              value={drive.stiffness_nm_deg ?? 0}
              unit="N·m/°"
              step={0.01}
              min={0}
              max={1000}
              onValue={(v) =>
                change(index, (d) => {
                  d.stiffness_nm_deg = v > 0 ? v : null;
                })
              }
            />
            {drive.servos.map((servo, n) => (
              <div key={servo.name} className="servo-row">
                <NumberBox
                  label={`${servo.name}, centre`}
                  value={servo.centre_deg}
                  unit="°"
                  step={1}
                  min={-360}
                  max={360}
                  onValue={(v) =>
                    change(index, (d) => {
                      d.servos[n].centre_deg = v;
                    })
                  }
                />
                <select
                  className="form-select form-select-sm"
                  aria-label={`Where ${servo.name} sits`}
                  value={servo.sits_on ?? ""}
                  onChange={(event) =>
                    change(index, (d) => {
                      d.servos[n].sits_on = event.target.value || null;
                    })
                  }
                >
                  <option value="">sits as its drive says</option>
                  {parts.map((p) => (
                    <option key={p} value={p}>
                      sits on {p.replace("/", " ")}
                    </option>
                  ))}
                </select>
              </div>
            ))}
          </fieldset>
        );
      })}
      <Ties project={project} limb={limb} drives={own.map((o) => o.drive)} />
      {project.servo_types.map((sheet, n) => (
        <fieldset key={sheet.name} className="number-grid">
          <legend>{sheet.name}, its sheet</legend>
          {SHEET.map(([field, label, unit, step, most]) => (
            <NumberBox
              key={field}
              label={label}
              value={sheet[field] as number}
              unit={unit}
              step={step}
              min={field === "mass_g" || field === "play_deg" || field === "price" ? 0 : 0.01}
              max={most}
              onValue={(v) => edit((draft) => void Object.assign(draft.servo_types[n], { [field]: v }), true)}
            />
          ))}
        </fieldset>
      ))}
    </details>
  );
}

/** Two joints with a direct drive each can be put on one servo, or on two servos side by side on the frame. */
function Ties({ project, limb, drives }: { project: Project; limb: Limb; drives: Drive[] }) {
  const single = drives.filter((d) => d.joints.length === 1).map((d) => d.joints[0]);
  const others = project.walker.drives
    .filter((d) => d.joints.length === 1)
    .map((d) => d.joints[0])
    .filter((j) => !single.includes(j));
  if (!single.length) return null;
  const tie = (first: string, second: string, kind: string) =>
    edit((draft) => {
      const all = draft.walker.drives;
      const of = (joint: string) => all.find((d) => d.joints.length === 1 && d.joints[0] === joint);
      const [one, two] = [of(first), of(second)];
      if (!one || !two) return;
      draft.walker.drives = all.filter((d) => d !== one && d !== two);
      const both = kind === "parallel_rod";
      draft.walker.drives.push({
        kind,
        servos: both ? [one.servos[0], two.servos[0]] : [one.servos[0]],
        joints: [first, second],
        settings: both ? {} : { second_centre_deg: two.servos[0].centre_deg },
        stiffness_nm_deg: null,
      });
    }, true);
  return (
    <select
      className="form-select form-select-sm"
      aria-label={`Tie a joint of ${limb.name}`}
      value=""
      onChange={(event) => {
        const [kind, first, second] = event.target.value.split("|");
        tie(first, second, kind);
      }}
    >
      <option value="" disabled>
        Tie two joints …
      </option>
      {single.flatMap((first) => [
        ...single
          .filter((second) => second !== first)
          .map((second) => (
            <option key={`rod${first}${second}`} value={`parallel_rod|${first}|${second}`}>
              {first.replace("/", " ")}, and {second.replace("/", " ")} by a parallel rod
            </option>
          )),
        ...others
          .filter((second) => second.split("/")[1] === first.split("/")[1])
          .flatMap((second) => [
            <option key={`eq${first}${second}`} value={`pair_equal|${first}|${second}`}>
              {first.replace("/", " ")} and {second.replace("/", " ")} on one servo, alike
            </option>,
            <option key={`mi${first}${second}`} value={`pair_mirrored|${first}|${second}`}>
              {first.replace("/", " ")} and {second.replace("/", " ")} on one servo, mirrored
            </option>,
          ]),
      ])}
    </select>
  );
}
