/** Holding B: ghost the last named revision behind the drawing, and list what differs. */
import { useEffect, useState } from "react";
import { client, type FieldDifference, type SavedWalker, type Schemas, told } from "@/api/client";
import { evaluateDraft } from "@/api/picture";
import { useBench } from "@/bench/state";
import { dropGhost } from "@/bench/store";

export interface Held {
  title: string;
  fields: FieldDifference[];
}

async function lastNamed(): Promise<Held | null> {
  const { saved, motion } = useBench.getState();
  if (!saved) return null;
  const path = { walker_id: saved.id };
  const { revisions } = await told<Schemas["Revisions"]>(
    client.GET("/api/walkers/{walker_id}/revisions", { params: { path } }),
  );
  const named = revisions.find((r) => r.name !== null && r.number !== saved.number);
  if (!named) return { title: "No revision has a name yet", fields: [] };
  const numbered = { path: { ...path, number: named.number } };
  const [revision, compared] = await Promise.all([
    told<SavedWalker>(client.GET("/api/walkers/{walker_id}/revisions/{number}", { params: numbered })),
    told<Schemas["Differences"]>(
      client.GET("/api/walkers/{walker_id}/revisions/{number}/differences", {
        params: { ...numbered, query: { to: saved.number } },
      }),
    ),
  ]);
  const title = `revision ${named.number}, ${named.name}`;
  if (revision.project.motions.some((m) => m.name === motion))
    useBench.setState({ ghost: { picture: await evaluateDraft(revision.project, motion), title } });
  return { title, fields: compared.differences };
}

export function useHeldRevision(): Held | null {
  const [held, setHeld] = useState<Held | null>(null);
  useEffect(() => {
    let down = false;
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.key.toLowerCase() !== "b" || down || event.ctrlKey || event.metaKey) return;
      if (target.matches("input:not([type=range]), textarea, select")) return;
      down = true;
      lastNamed()
        .then((found) => down && setHeld(found))
        .catch((error: Error) => down && setHeld({ title: error.message, fields: [] }))
        .finally(() => down || dropGhost());
    };
    const release = (event: Event) => {
      if (!down || (event instanceof KeyboardEvent && event.key.toLowerCase() !== "b")) return;
      down = false;
      setHeld(null);
      dropGhost();
    };
    window.addEventListener("keydown", press);
    window.addEventListener("keyup", release);
    window.addEventListener("blur", release);
    return () => {
      window.removeEventListener("keydown", press);
      window.removeEventListener("keyup", release);
      window.removeEventListener("blur", release);
    };
  }, []);
  return held;
}
