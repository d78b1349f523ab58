/** A part of a station that is fetched when it is first shown; all of them are fetched ahead once the bench is idle, so
 * that nobody waits for one. */
import { type ComponentType, lazy } from "react";

const fetches: (() => Promise<unknown>)[] = [];

export function later<Name extends string, Props>(
  fetch: () => Promise<Record<Name, ComponentType<Props>>>,
  name: Name,
): ComponentType<Props> {
  fetches.push(fetch);
  const found = lazy(async () => ({ default: (await fetch())[name] as ComponentType<object> }));
  return found as unknown as ComponentType<Props>;
}

/** One after another, in no hurry. */
export function fetchAhead(): void {
  const idle = window.requestIdleCallback ?? ((then: () => void) => window.setTimeout(then, 200));
  const next = (n: number) => {
    if (n < fetches.length) idle(() => void fetches[n]().finally(() => next(n + 1)));
  };
  next(0);
}
