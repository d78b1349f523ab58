/** The stations in the order of work. A new station is one folder here and one line in this list. */
import { BALANCE } from "./balance";
import { COMPARE } from "./compare";
import { FRAME } from "./frame";
import { LEG } from "./leg";
import { LOAD } from "./load";
import { MOTIONS } from "./motions";
import { SERVOS } from "./servos";
import type { Station } from "./station";
import { STRIDE } from "./stride";
import { TABLE } from "./table";
import { TIMING } from "./timing";
import { TRIALS } from "./trials";

export const STATIONS: Station[] = [FRAME, SERVOS, LEG, STRIDE, TIMING, MOTIONS, BALANCE, LOAD, COMPARE, TABLE, TRIALS];

export function stationCalled(name: string | undefined): Station {
  return STATIONS.find((s) => s.name === name) ?? BALANCE;
}
