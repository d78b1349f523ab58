/** What the server says of the servos as they are fitted, and edits of that which it makes. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { client, fetched, type Project, posted, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { edit, replaceDraft } from "@/bench/store";

export type BenchView = Schemas["BenchView"];
export type Servo = Schemas["ServoView"];
type Edit = Schemas["BenchEdit"];

export function useBenchView(project: Project): BenchView | undefined {
  return useQuery({
    queryKey: ["bench", project.walker, project.electrics, project.servo_types, project.controller],
    queryFn: () => told<BenchView>(client.POST("/api/bench", { body: { project } })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
    retry: false,
  }).data;
}

/** Edits are made one after another, each on the draft that the one before has left. */
let last: Promise<string> = Promise.resolve("");

/** What is to be said of it; what was refused, in words, where it was not done. */
export function benchEdit(action: Edit["action"], more: Partial<Edit> = {}): Promise<string> {
  last = last.then(() => edited(action, more));
  return last;
}

async function edited(action: Edit["action"], more: Partial<Edit>): Promise<string> {
  try {
    for (;;) {
      const project = useBench.getState().draft;
      if (!project) return "";
      const body = { project, action, ...more };
      const answer = (await (await fetched("/api/electrics", posted(body))).json()) as Schemas["BenchEdited"];
      // What was typed meanwhile is not lost: then it is done on that.
      if (useBench.getState().draft !== project) continue;
      replaceDraft(answer.project);
      return answer.said.join("; ");
    }
  } catch (error) {
    return inWords(error);
  }
}

/** ISO, to the minute, by the builder's own clock. */
export function now(): string {
  const at = new Date();
  const two = (n: number) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())} ${two(at.getHours())}:${two(at.getMinutes())}`;
}

/** How the horn of a place sits, made anew where nothing was said of it. */
export function putFitted(place: string, change: (entry: Project["electrics"]["fitted"][number]) => void): void {
  edit((draft) => {
    let entry = draft.electrics.fitted.find((f) => f.place === place);
    if (!entry) {
      draft.electrics.fitted.push({ place, tooth: 0, tooth_left_deg: 0, trim_deg: 0 });
      entry = draft.electrics.fitted[draft.electrics.fitted.length - 1];
    }
    change(entry);
  }, true);
}

/** How far round its spline a horn goes on, from where the joint stands at its zero. */
export function teethFrom(tooth: number): string {
  if (tooth === 0) return "no tooth off";
  return `${Math.abs(tooth)} ${Math.abs(tooth) === 1 ? "tooth" : "teeth"} ${tooth > 0 ? "on" : "back"}`;
}
