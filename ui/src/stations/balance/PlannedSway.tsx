/** The sway by which a machine on two soles pushes in the middle of them. */

import { useState } from "react";
import { client, type Project, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { shown } from "@/look/number";

export function PlannedSway({ project }: { project: Project }) {
  const motion = useBench((s) => s.motion);
  const [said, setSaid] = useState("");
  const plan = async () => {
    try {
      const body = { project, motion };
      const found = await told<Schemas["PlannedSway"]>(client.POST("/api/planned-sway", { body }));
      replaceDraft(found.project as Project);
      setSaid(`Planned; its pushing point keeps within ${shown(found.residual_mm, 1)} mm of the middle of its soles.`);
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  return (
    <div className="planned-sway">
      <button type="button" className="do" onClick={() => void plan()}>
        Plan the sway over its soles
      </button>
      {said && (
        <p className="hint" role="status">
          {said}
        </p>
      )}
    </div>
  );
}
