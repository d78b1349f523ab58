/** How numbers are read and shown. */

export function shown(value: number, digits = 0): string {
  const text = value.toFixed(digits);
  const plain = /^-0(\.0*)?$/.test(text) ? text.slice(1) : text;
  return plain.replace("-", "−");
}

/** Text → number; a decimal comma and a true minus are understood. Null where it is no number. */
export function read(text: string): number | null {
  const plain = text.trim().replace("−", "-").replace(",", ".");
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain)) return null;
  return Number(plain);
}

export function withUnit(value: number, unit: string, digits = 0): string {
  if (!unit) return shown(value, digits);
  return unit.startsWith("°") ? `${shown(value, digits)}${unit}` : `${shown(value, digits)} ${unit}`;
}

export function roundTo(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toFixed(6));
}

export function digitsOf(step: number): number {
  return (String(step).split(".")[1] ?? "").length;
}

export function mass(grams: number): string {
  return grams >= 1000 ? `${shown(grams / 1000, 2)} kg` : `${shown(grams)} g`;
}

/** "2026-11-26 14:05": the same in every country. */
export function isoTime(text: string): string {
  const at = new Date(text);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())} ${two(at.getHours())}:${two(at.getMinutes())}`;
}
