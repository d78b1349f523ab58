/** Edits of the frame that the server makes, so that all that hangs on a limb follows. */

import { fetched, type Project, posted, type Schemas } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { chooseLeg, replaceDraft } from "@/bench/store";

export type Action = Schemas["FrameEdit"]["action"];
type More = Partial<Schemas["FrameEdit"]>;

/** Edits are made one after another, each on the draft that the one before has left. */
let last: Promise<string> = Promise.resolve("");

/** What was refused, in words; nothing where it was done. */
export function frameEdit(project: Project, action: Action, more: More = {}): Promise<string> {
  const { leg, mirrored } = useBench.getState();
  last = last.then(() => edited(project, action, { limb: leg, alike: mirrored, ...more }));
  return last;
}

async function edited(shown: Project, action: Action, more: More): Promise<string> {
  try {
    for (;;) {
      const draft = useBench.getState().draft;
      const body = { project: draft ?? shown, action, ...more };
      const answer = (await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"];
      // What was typed meanwhile is not lost: then it is done on that.
      if (useBench.getState().draft !== draft) continue;
      replaceDraft(answer.project);
      const names = answer.project.walker.limbs.map((l) => l.name);
      if (action === "add") chooseLeg(names[names.length - 1]);
      else if (!names.includes(useBench.getState().leg)) chooseLeg(names[0]);
      return "";
    }
  } catch (error) {
    return inWords(error);
  }
}
