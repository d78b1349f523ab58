/** What is known of fields: from the server's document, from the caller, and whose leg they are of. */
import { createContext, type ReactElement } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Forms, Path } from "@/bench/paths";

export interface Choosable {
  name: string;
  label: string;
}

/** What a caller knows of a field beyond the document: names to choose among, other words, a narrower range. */
export interface Told {
  label?: string;
  choices?: Choosable[];
  /** Offered where an optional field is not said. */
  usual?: unknown;
  low?: number;
  high?: number;
  step?: number;
  unit?: string;
  /** It may be unsaid, but not here. */
  firm?: boolean;
  /** What stands where an optional field is not said. */
  unsaid?: string;
}

/** The leg whose like follow a change, where what is shown is a leg's. */
export const LegOf = createContext<string | null>(null);

export function useForms(): Forms {
  return useCatalogue()?.forms ?? {};
}

/** A form within a field: how a field draws what it is a group of. */
export type Nested = (props: {
  of: string;
  at: Path;
  about?: string;
  legend?: string;
  columns?: 1 | 2 | 3;
}) => ReactElement;
