/** The frame itself: its sections, how it is held, the names of its legs, its size as a whole, its totals. */
import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Motion, Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { chooseLeg, edit, editMotion, pick } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { BODY_SHAPES, FewWays } from "@/controls/FewWays";
import { Figures } from "@/controls/Figures";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { FieldForm } from "@/fields/FieldForm";
import { frameEdit } from "../frameEdit";
import { Ledger } from "../Ledger";
import { mountsToTheEdge, reshape, resize } from "../resize";
import { Scale } from "../Scale";

/** The leg furthest back on what a section hangs on, and its mirror image, while nothing hangs on the section itself. */
function rearmost({ walker }: Project, section: Project["walker"]["sections"][number]) {
  if (walker.limbs.some((l) => l.section === section.name)) return null;
  const legs = walker.limbs.filter((l) => l.neutral_mm && l.section === section.hinge?.on);
  const last = Math.min(...legs.map((l) => l.mount.at_mm[0]));
  const first = legs.find((l) => l.mount.at_mm[0] === last);
  const found = legs.filter(
    (l) => l === first || (l.mount.at_mm[0] === last && l.mount.at_mm[1] === -(first?.mount.at_mm[1] ?? 0)),
  );
  return found.length > 0 && found.length < legs.length ? found.map((l) => l.name) : null;
}

export function BodyPanel({ project, motion }: { project: Project; motion: Motion }) {
  const { sections } = project.walker;
  const [refusal, setRefusal] = useState("");
  const schemes = useCatalogue()?.label_schemes ?? [];
  const chosen = useBench((s) => s.picked.index);
  const n = Math.min(chosen, sections.length - 1);
  const section = sections[n];
  const act = async (asked: Promise<string>) => setRefusal(await asked);
  const rear = rearmost(project, section);
  const added = async (axis: "yaw" | "pitch" | "roll") => {
    const refused = await frameEdit(project, "section", { axis });
    if (!refused) useBench.setState({ picked: { kind: "body", index: sections.length } });
    return refused;
  };
  const bend = motion.pose.bends.find((b) => b.section === section.name)?.angle_deg ?? 0;
  return (
    <>
      {sections.length > 1 && (
        <Choice
          label="Section"
          value={String(n)}
          onValue={(v) => useBench.setState({ picked: { kind: "body", index: Number(v) } })}
        >
          {sections.map((s, k) => (
            <option key={s.name} value={k}>
              {s.name}
            </option>
          ))}
        </Choice>
      )}
      <FewWays
        label={`${section.name} is`}
        ways={BODY_SHAPES}
        value={section.shape}
        onValue={(shape) => edit((d) => reshape(d, n, shape), true)}
      />
      <div className="form-fields columns-2">
        {(section.shape === "round" ? (["across", "", "high"] as const) : (["long", "wide", "high"] as const)).map(
          (label, axis) =>
            label && (
              <NumberBox
                key={label}
                label={label[0].toUpperCase() + label.slice(1)}
                value={section.size_mm[axis]}
                unit="mm"
                step={1}
                min={1}
                max={2000}
                path={`walker.sections.${n}.size_mm.${axis}`}
                onValue={(v) => edit((d) => resize(d, n, axis, v), true)}
              />
            ),
        )}
      </div>
      <p className="hint">Mounts on the edge stay on it, and their feet with them.</p>
      <div className="button-row">
        <button type="button" className="do" onClick={() => edit((d) => mountsToTheEdge(d, n), true)}>
          Mounts to the edge
        </button>
      </div>
      {section.hinge && (
        <>
          {rear && (
            <button
              type="button"
              className="do"
              onClick={() =>
                void act(frameEdit(project, "hang", { limb: rear[0], section: section.name, alike: true }))
              }
            >
              Hang {rear.join(" and ")} on it
            </button>
          )}
          <FieldForm
            of="SectionHinge"
            at={["walker", "sections", n, "hinge"]}
            fields={["at_mm", "to_mm", "axis", "min_deg", "max_deg"]}
            about={section.name}
            columns={2}
          />
          {section.hinge.turned_by ? (
            <p className="said">
              <span>Turned by</span>
              <span>{section.hinge.turned_by.replace("/", " ")}</span>
              <button
                type="button"
                className="link-button"
                onClick={() => {
                  chooseLeg(section.hinge?.turned_by?.split("/")[0] ?? "");
                  pick("servos");
                }}
              >
                Its servo
              </button>
            </p>
          ) : (
            <button
              type="button"
              className="do"
              onClick={() => void act(frameEdit(project, "hinge", { section: section.name }))}
            >
              Put a servo on this hinge
            </button>
          )}
          {!section.hinge.turned_by && (
            <NumberBox
              label={`Bent in ${motion.name}`}
              value={bend}
              unit="°"
              step={1}
              min={section.hinge.min_deg}
              max={section.hinge.max_deg}
              onValue={(v) =>
                editMotion((m) => {
                  m.pose.bends = m.pose.bends.filter((b) => b.section !== section.name);
                  m.pose.bends.push({ section: section.name, angle_deg: v });
                }, true)
              }
            />
          )}
        </>
      )}
      <Choice label="Add a section" value="" onValue={(axis) => void act(added(axis as "yaw"))}>
        <option value="" disabled>
          behind, on a hinge …
        </option>
        <option value="yaw">that bends left and right (yaw)</option>
        <option value="pitch">that bends up and down (pitch)</option>
        <option value="roll">that twists (roll)</option>
      </Choice>
      <FieldForm of="Walker" at={["walker"]} fields={["held"]} />
      <Choice label="Name legs by" value="" onValue={(scheme) => void act(frameEdit(project, "relabel", { scheme }))}>
        <option value="" disabled>
          choose …
        </option>
        {schemes.map((s) => (
          <option key={s.name} value={s.name}>
            {s.about}
          </option>
        ))}
      </Choice>
      <Refused why={refusal} />
      <Scale project={project} />
      <Figures at="frame" />
      <Ledger project={project} />
    </>
  );
}
