/** What turns each joint of the chosen limb: the kind of drive, its numbers, its servo and where that sits. */
import { useCatalogue } from "@/api/catalogue";
import type { Limb, Project } from "@/api/client";
import { unfit } from "@/bench/edits";
import { editLeg } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { FieldForm } from "@/fields/FieldForm";
import { LegOf } from "@/fields/told";
import { AlikeSwitch } from "./LegPanel";
import { partsOf } from "./MassPanel";

type Drive = Project["walker"]["drives"][number];

export function ServosPanel({ project, limb }: { project: Project; limb: Limb }) {
  const kinds = useCatalogue()?.drives ?? [];
  const change = (index: number, apply: (drive: Drive) => void) =>
    void editLeg(limb.name, (draft) => apply(draft.walker.drives[index]));
  const own = project.walker.drives
    .map((drive, index) => ({ drive, index }))
    .filter(({ drive }) => drive.joints.some((j) => j.startsWith(`${limb.name}/`)));
  if (!own.length) return <p className="hint">Nothing turns {limb.name}.</p>;
  const parts = partsOf(project).filter((p) => !p.name.includes("/") || p.name.startsWith(`${limb.name}/`));
  const types = project.servo_types.map((s) => ({ name: s.name, label: s.name }));
  return (
    <>
      <AlikeSwitch />
      {own.map(({ drive, index }) => {
        const kind = kinds.find((k) => k.name === drive.kind);
        const fits = kinds.filter((k) => k.servos === drive.servos.length && k.joints === drive.joints.length);
        const title = drive.joints.map((j) => j.replace("/", " ")).join(" and ");
        return (
          <fieldset key={drive.joints.join()} className="form-fields drive">
            <legend>{title}</legend>
            {fits.length > 1 && (
              <Choice
                label="Driven by"
                value={drive.kind}
                onValue={(name) =>
                  change(index, (d) => {
                    d.kind = name;
                    d.settings = {};
                  })
                }
              >
                {fits.map((k) => (
                  <option key={k.name} value={k.name}>
                    {k.label}
                  </option>
                ))}
              </Choice>
            )}
            {kind?.settings.map((s) => (
              <NumberBox
                key={s.name}
                label={s.label}
                about={title}
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
            {drive.servos.map((servo, n) => (
              <FieldForm
                key={servo.name}
                of="DriveServo"
                at={["walker", "drives", index, "servos", n]}
                fields={[...(types.length > 1 ? ["type"] : []), "centre_deg", "sits_on"]}
                told={{
                  type: { label: "Servo", choices: types },
                  sits_on: { choices: parts, unsaid: "as its drive says" },
                }}
                about={servo.name}
              />
            ))}
            <FieldForm
              of="Drive"
              at={["walker", "drives", index]}
              fields={["stiffness_nm_deg"]}
              told={{ stiffness_nm_deg: { usual: 0.05, unsaid: "stiff" } }}
              about={title}
            />
            {drive.joints.length === 2 && (
              <button type="button" className="do" onClick={() => untie(limb.name, drive)}>
                Untie: a servo each
              </button>
            )}
          </fieldset>
        );
      })}
      <Ties project={project} drives={own.map((o) => o.drive)} />
      <LegOf.Provider value={null}>
        {project.servo_types.map((sheet, n) => (
          <FieldForm
            key={sheet.name}
            of="ServoType"
            at={["servo_types", n]}
            fields={["mass_g", "stall_torque_nm", "no_load_speed_deg_s", "rated_v", "travel_deg", "play_deg", "price"]}
            about={sheet.name}
            legend={`${sheet.name}, its sheet`}
            columns={2}
          />
        ))}
      </LegOf.Provider>
    </>
  );
}

/** A servo each again: the rod's own two, or the one and a new one like it. */
function untie(limb: string, { joints, servos, settings }: Drive): void {
  void editLeg(limb, (draft) => {
    const [first, second = { ...servos[0], name: joints[1].replace("/", " ") }] = servos;
    if (servos.length === 1) second.centre_deg = settings.second_centre_deg ?? first.centre_deg;
    const each = [first, second].map((servo, n) => ({
      kind: "direct",
      servos: [servo],
      joints: [joints[n]],
      settings: {},
      stiffness_nm_deg: null,
    }));
    const others = draft.walker.drives.filter((d) => d.joints.join() !== joints.join());
    draft.walker.drives = [...others, ...each];
  });
}

/** Two joints with a direct drive each can be put on one servo, or on two servos side by side on the frame. */
function Ties({ project, drives }: { project: Project; drives: Drive[] }) {
  const chain = project.walker.limbs.flatMap((m) => m.joints.map((j) => `${m.name}/${j.name}`));
  const single = drives
    .filter((d) => d.joints.length === 1)
    .map((d) => d.joints[0])
    .sort((a, b) => chain.indexOf(a) - chain.indexOf(b));
  const others = project.walker.drives
    .filter((d) => d.joints.length === 1)
    .map((d) => d.joints[0])
    .filter((j) => !single.includes(j));
  if (!single.length) return null;
  const tie = (first: string, second: string, kind: string) =>
    void editLeg(first.split("/")[0], (draft) => {
      const all = draft.walker.drives;
      const of = (joint: string) => all.find((d) => d.joints.length === 1 && d.joints[0] === joint);
      const [one, two] = [of(first), of(second)];
      if (!one || !two) return;
      const both = kind === "parallel_rod";
      const settings: Record<string, number> = both ? {} : { second_centre_deg: two.servos[0].centre_deg };
      const tied = {
        kind,
        servos: both ? [one.servos[0], two.servos[0]] : [one.servos[0]],
        joints: [first, second],
        settings,
        stiffness_nm_deg: null,
      };
      if (!both) unfit(draft, two.servos[0].name);
      draft.walker.drives = [...all.filter((d) => d !== one && d !== two), tied];
    });
  const said = (joint: string) => joint.replace("/", " ");
  return (
    <Choice
      label="Tie two joints"
      value=""
      onValue={(chosen) => {
        const [kind, first, second] = chosen.split("|");
        tie(first, second, kind);
      }}
    >
      <option value="" disabled>
        choose …
      </option>
      {single.flatMap((first, n) => [
        // A rod leads outwards, from a servo beside one joint to a joint beyond it.
        ...single.slice(n + 1).map((second) => (
          <option key={`rod${first}${second}`} value={`parallel_rod|${first}|${second}`}>
            {said(second)} by a parallel rod from beside {said(first)}
          </option>
        )),
        ...others
          .filter((second) => second.split("/")[1] === first.split("/")[1])
          .flatMap((second) => [
            <option key={`eq${first}${second}`} value={`pair_equal|${first}|${second}`}>
              {said(first)} and {said(second)} on one servo, alike
            </option>,
            <option key={`mi${first}${second}`} value={`pair_mirrored|${first}|${second}`}>
              {said(first)} and {said(second)} on one servo, mirrored
            </option>,
          ]),
      ])}
    </Choice>
  );
}
