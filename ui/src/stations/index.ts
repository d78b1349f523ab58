/** The stations in the order of work. A new station is one folder here and one line in this list. */
import { BALANCE } from "./balance";
import { FRAME } from "./frame";
import type { Station } from "./station";
import { STRIDE } from "./stride";
import { TABLE } from "./table";
import { TIMING } from "./timing";

export const STATIONS: Station[] = [FRAME, STRIDE, TIMING, BALANCE, TABLE];

export function stationCalled(name: string | undefined): Station {
  return STATIONS.find((s) => s.name === name) ?? BALANCE;
}
