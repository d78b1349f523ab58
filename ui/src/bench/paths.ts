/** Places in the project document: "walker.limbs[2].joints[0].max_deg" as the way there, its value, and its name in the
 * builder's words. */
import type { Project, Schemas } from "@/api/client";

export type Path = (string | number)[];
export type Forms = Record<string, Schemas["FormField"][]>;
export type FormField = Schemas["FormField"];

export function parsePath(text: string): Path {
  return [...text.matchAll(/[^.[\]]+/g)].map(([part]) => (/^\d+$/.test(part) ? Number(part) : part));
}

export function writePath(path: Path): string {
  return path.reduce<string>(
    (text, part) => text + (typeof part === "number" ? `[${part}]` : `${text && "."}${part}`),
    "",
  );
}

export function valueAt(project: unknown, path: Path): unknown {
  let value = project;
  for (const part of path) {
    if (value === null || typeof value !== "object") return undefined;
    value = (value as Record<string | number, unknown>)[part];
  }
  return value;
}

/** Inside a draft that may be changed. */
export function putAt(draft: Project, path: Path, value: unknown): void {
  const holder = valueAt(draft, path.slice(0, -1)) as Record<string | number, unknown> | undefined;
  if (holder) holder[path[path.length - 1]] = value;
}

/** What the field at a place is, found by walking the models down from the project. */
export function fieldAt(forms: Forms, project: unknown, path: Path): FormField | undefined {
  let fields: FormField[] | undefined = forms.Project;
  let field: FormField | undefined;
  let here: unknown = project;
  for (const part of path) {
    here = here === null || typeof here !== "object" ? undefined : (here as Record<string, unknown>)[part as string];
    if (typeof part === "number" && field?.kind === "numbers") return field;
    if (typeof part !== "number") {
      field = fields?.find((f) => f.name === part);
      if (!field) return undefined;
    }
    const kind = (here as { kind?: string } | null | undefined)?.kind ?? "";
    const model: string | undefined = field?.kinds?.[kind] ?? field?.of;
    fields = model ? forms[model] : undefined;
  }
  return field;
}

/** "BL, yaw, highest" for a place: the names of what is passed, and what the field is called. */
export function wordsOf(forms: Forms, project: Project, path: Path): string {
  const words: string[] = [];
  for (let n = 1; n <= path.length; n++) {
    const value = valueAt(project, path.slice(0, n));
    const name = (value as { name?: string; limb?: string } | null)?.name ?? (value as { limb?: string } | null)?.limb;
    if (typeof path[n - 1] === "number" && name) words.push(name);
  }
  const field = fieldAt(forms, project, path);
  const last = path[path.length - 1];
  if (field) words.push(field.label[0].toLowerCase() + field.label.slice(1));
  else if (typeof last === "string") words.push(last.replace(/_(mm|deg|s|g)$/, "").replaceAll("_", " "));
  if (field?.kind === "numbers" && typeof last === "number") words.push(field.parts?.[last] ?? "");
  return words.filter(Boolean).join(", ");
}
