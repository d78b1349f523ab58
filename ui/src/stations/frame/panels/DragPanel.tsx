/** What holds the machine back where it goes: a cable, a stick, a skid. */
import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { Figures } from "@/controls/Figures";
import { FieldForm } from "@/fields/FieldForm";
import { withUnit } from "@/look/number";
import { PickList, useChosen } from "../PickList";

export function DragPanel({ project }: { project: Project }) {
  const { drags, sections } = project.walker;
  const chosen = useChosen(drags);
  const drag = drags[chosen];
  return (
    <>
      <p className="hint">
        A cable behind it, a stick, a skid. Draw it along on its own by a spring scale, on the floor it walks on.
      </p>
      <PickList
        kind="drag"
        things={drags}
        shows={(n) => withUnit(drags[n].pull_n, "N")}
        add="Add what drags"
        called="Drag"
        onAdd={(name) =>
          edit((draft) => {
            const body = draft.walker.sections[0];
            const edge = -Math.round(body.size_mm[0] / 2);
            draft.walker.drags.push({ name, pull_n: 1, at_mm: [edge, 0, 0], on: body.name });
          }, true)
        }
        onRemove={(n) => edit((draft) => void draft.walker.drags.splice(n, 1), true)}
      />
      {drag && (
        <FieldForm
          key={drag.name}
          of="Drag"
          at={["walker", "drags", chosen]}
          fields={["name", "pull_n", "at_mm", ...(sections.length > 1 ? ["on"] : [])]}
          told={{ on: { choices: sections.map(({ name }) => ({ name, label: name })) } }}
          about={drag.name}
          legend={drag.name}
        />
      )}
      <Figures at="frame/drags" />
    </>
  );
}
