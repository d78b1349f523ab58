import type { FieldDifference } from "@/api/client";

function brief(value: unknown): string {
  if (value === null || value === undefined) return "not there";
  if (typeof value === "number") return String(Number(value.toFixed(4))).replace("-", "−");
  if (Array.isArray(value)) return value.length ? value.map(brief).join(", ") : "none";
  if (typeof value === "object") return "a group";
  return String(value);
}

/** "motions Forward lift_mm" → "motions › Forward › lift, mm". */
function place(path: string): string {
  return path
    .replace(/_(mm|deg|s|g|ms)$/, ", $1")
    .replace(/^(walker|motions) /, "")
    .replaceAll("_", " ");
}

export function Fields({ fields, before, after }: { fields: FieldDifference[]; before: string; after: string }) {
  if (fields.length === 0) return <p className="hint">No field differs.</p>;
  return (
    <div className="fields">
      <table>
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">{before}</th>
            <th scope="col">{after}</th>
          </tr>
        </thead>
        <tbody>
          {fields.map((f) => (
            <tr key={f.path}>
              <th scope="row">{place(f.path)}</th>
              <td>{brief(f.before)}</td>
              <td>{brief(f.after)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
