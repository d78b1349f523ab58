/** The walks that no motion sets going from standing, or brings to a stand, each with what is to be done. */
import { useShallow } from "zustand/react/shallow";
import { useBench } from "./state";

const NONE: Record<string, string> = {};

export function useAtSpeed(): Record<string, string> {
  return useBench(useShallow((s) => s.picture?.at_speed ?? NONE));
}
