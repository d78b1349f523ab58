/** What a query is kept under. A project is long, and each is made once and never changed: it goes by which one it is. */
import type { QueryKey } from "@tanstack/react-query";

const numbers = new WeakMap<object, number>();
let last = 0;

function numberOf(thing: object): number {
  const known = numbers.get(thing);
  if (known !== undefined) return known;
  numbers.set(thing, ++last);
  return last;
}

export function keyed(key: QueryKey): string {
  return JSON.stringify(key.map((part) => (typeof part === "object" && part ? { number: numberOf(part) } : part)));
}
