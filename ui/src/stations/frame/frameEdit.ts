/** Edits of the frame that the server makes, so that all that hangs on a limb follows. */
import { fetched, type Project, posted, type Schemas } from "@/api/client";
import { useBench } from "@/bench/state";
import { chooseLeg, replaceDraft } from "@/bench/store";

export type Action = Schemas["FrameEdit"]["action"];
type More = Partial<Schemas["FrameEdit"]>;

/** What was refused, in words; nothing where it was done. */
export async function frameEdit(project: Project, action: Action, more: More = {}): Promise<string> {
  const { leg, mirrored } = useBench.getState();
  try {
    const body = { project, action, limb: leg, alike: mirrored, ...more };
    const answer = (await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"];
    replaceDraft(answer.project);
    const names = answer.project.walker.limbs.map((l) => l.name);
    if (action === "add") chooseLeg(names[names.length - 1]);
    else if (!names.includes(leg)) chooseLeg(names[0]);
    return "";
  } catch (error) {
    return (error as Error).message;
  }
}
