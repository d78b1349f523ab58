/** The typed client of the server's own document, and what its answers mean in words. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Project = Schemas["CheckedProject"];
/** Any kind of motion; a gait is one told by phases and duties. */
export type AnyMotion = Project["motions"][number];
export type MotionOf<K extends AnyMotion["kind"]> = Extract<AnyMotion, { kind?: K }>;
export type Motion = Schemas["PhaseGait"];
export type Limb = Schemas["Limb"];
export type Joint = Limb["joints"][number];
export type SavedWalker = Schemas["SavedWalker"];
export type Catalogue = Schemas["Catalogue"];
export type Remedy = Schemas["RemedyView"];
export type FieldDifference = Schemas["Difference"];

export function isGait(motion: AnyMotion | undefined): motion is Motion {
  return motion !== undefined && (motion.kind ?? "phase_gait") === "phase_gait";
}

export const client = createClient<paths>({ baseUrl: "" });

export interface ProblemBody {
  detail: string;
  status: number;
  problems?: { path: string; sentence: string }[];
}

/** Something the server refused; `message` is its sentence. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly body: ProblemBody | null,
  ) {
    super(body?.detail ?? `The server answered ${status}.`);
  }
}

/** The data of an answer, or a Refusal. Without any answer: a sentence about that.
 *
 * The type is named by the caller: the client's own reading types turn fixed-length lists into open ones.
 */
export async function told<T>(call: Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: unknown; error?: unknown; response: Response };
  try {
    answer = await call;
  } catch {
    throw new Error("Bustle's server does not answer. Is it still running?");
  }
  if (!answer.response.ok) throw new Refusal(answer.response.status, (answer.error as ProblemBody) ?? null);
  return answer.data as T;
}

/** A plain fetch with the same errors, for answers that are not JSON. */
export async function fetched(address: string, options?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(address, options);
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Error("Bustle's server does not answer. Is it still running?");
  }
  if (!response.ok) throw new Refusal(response.status, await response.json().catch(() => null));
  return response;
}

export function posted(body: unknown): RequestInit {
  return { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) };
}

/** Hand a file to the browser to keep. */
export async function download(response: Response): Promise<string> {
  const name = /filename="([^"]+)"/.exec(response.headers.get("Content-Disposition") ?? "")?.[1] ?? "bustle";
  const address = URL.createObjectURL(await response.blob());
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(address), 10_000);
  return name;
}
