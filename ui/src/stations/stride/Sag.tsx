/** How far the legs give under the machine's weight, typed as measured where its effect is shown: it is kept as how
 * far the servos give, and their horns. */

import { useState } from "react";
import { fetched, type Project, posted, type Schemas } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";

const LEAST_MM = 0.1;
const MOST_MM = 60;

export function Sag({ project, leg }: { project: Project; leg: string }) {
  const clear = useBench((s) => s.picture?.clearances.find((c) => c.leg === leg));
  const [refusal, setRefusal] = useState("");
  const sags = clear?.sag_mm ?? null;
  if (!clear || sags === null) return null;
  const put = async (sag: number) => {
    try {
      const body = { project, action: "sag", factor: sag / Math.max(1e-3, sags) };
      const answer = (await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"];
      setRefusal("");
      replaceDraft(answer.project);
    } catch (error) {
      setRefusal(inWords(error));
    }
  };
  return (
    <div className="sag">
      <NumberBox
        label={`Sags under its weight${clear.assumed ? " (assumed)" : ""}`}
        value={Math.round(sags * 10) / 10}
        unit="mm"
        step={0.5}
        min={LEAST_MM}
        max={MOST_MM}
        onValue={(v) => void put(v)}
      />
      <Refused why={refusal} />
    </div>
  );
}
