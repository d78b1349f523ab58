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
  const [far, setFar] = useState(false);
  const plan = async () => {
    try {
      const body = { project, motion };
      const found = await told<Schemas["PlannedSway"]>(client.POST("/api/planned-sway", { body }));
      replaceDraft(found.project as Project);
      const off = `${shown(found.residual_mm, 1)} mm`;
      setFar(found.residual_mm > found.near_mm);
      setSaid(
        found.residual_mm > found.near_mm
          ? `Planned, its mass taken to go level, but its pushing point still goes ${off} off the middle of its soles, further than a tenth of their width, ${shown(found.near_mm, 1)} mm. Shorter steps or less lift bring it nearer.`
          : `Planned, its mass taken to go level; its pushing point keeps within ${off} of the middle of its soles.`,
      );
    } catch (error) {
      setFar(false);
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
          {far && <i className="mark warn" aria-hidden="true" />} {said}
        </p>
      )}
    </div>
  );
}
