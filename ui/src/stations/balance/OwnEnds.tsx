/** A walk that has to be entered or left at speed, and what makes its own start and stop. */

import { useState } from "react";
import { client, type Project, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";

export function OwnEnds({ project }: { project: Project }) {
  const motion = useBench((s) => s.motion);
  const atSpeed = useBench((s) => s.picture?.at_speed[s.motion]);
  const [said, setSaid] = useState("");
  const make = async () => {
    try {
      const found = await told<Schemas["OwnEndsView"]>(client.POST("/api/own-ends", { body: { project, motion } }));
      replaceDraft(found.project as Project);
      const stops = found.stops.length ? ` ${found.stops.join(" ")}` : "";
      setSaid(`New: ${found.added.join(", ")}.${stops}`);
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  if (!atSpeed && !said) return null;
  return (
    <div className="own-ends">
      {atSpeed && (
        <>
          <p className="hint">No start or stop of its own leads here from standing: {atSpeed}.</p>
          <button type="button" className="do" onClick={() => void make()}>
            Make its start and stop
          </button>
        </>
      )}
      {said && (
        <p className="hint" role="status">
          {said}
        </p>
      )}
    </div>
  );
}
