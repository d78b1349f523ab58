/** One search and what came of it, for a control that asks for it by a button. */
import { useState } from "react";
import { useBench } from "@/bench/state";
import type { Project } from "./client";
import { search } from "./searches";

interface Searched<T> {
  found: T | null;
  /** Whether the draft or the motion has changed since. */
  old: boolean;
  busy: boolean;
  fault: string;
  ask: () => Promise<void>;
}

export function useSearched<T>(address: string, project: Project): Searched<T> {
  const motion = useBench((s) => s.motion);
  const [found, setFound] = useState<{ of: Project; motion: string; is: T } | null>(null);
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState("");
  const ask = async () => {
    setBusy(true);
    setFault("");
    try {
      const is = (await (await search(address, { project, motion })).json()) as T;
      setFound({ of: project, motion, is });
    } catch (error) {
      setFound(null);
      setFault((error as Error).message);
    }
    setBusy(false);
  };
  const old = found !== null && (found.of !== project || found.motion !== motion);
  return { found: found?.is ?? null, old, busy, fault, ask };
}
