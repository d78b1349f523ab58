/** A drive by the next-leg rule: where the stick has been since it began. What was walked so far never changes. */

export interface Stick {
  ahead: number;
  left: number;
  turn: number;
}

export const REST: Stick = { ahead: 0, left: 0, turn: 0 };

export function atRest(stick: Stick): boolean {
  return !stick.ahead && !stick.left && !stick.turn;
}

// The plan is told this far ahead of the last move of the stick, and no drive is longer.
const AHEAD_S = 8;
export const LONGEST_S = 45;
// Moves of the stick nearer to each other than this are one.
const APART_S = 0.15;
const END_S = 0.1;

export class RuleDrive {
  sticks: (Stick & { from_s: number })[] = [];
  takes_s = AHEAD_S;

  get begun(): boolean {
    return this.sticks.length > 0;
  }

  /** Whether what was asked for has been walked to its end. */
  over(time: number): boolean {
    return time > this.takes_s - END_S;
  }

  /** The stick is put elsewhere at a time; it counts once an answer is there. False where the drive is too long. */
  put(stick: Stick, time: number, lag_s: number): boolean {
    const from_s = Math.round((this.begun ? time + lag_s : END_S) * 100) / 100;
    if (from_s > LONGEST_S && !atRest(stick)) return false;
    this.sticks = this.sticks.filter((s) => s.from_s <= time || s.from_s < from_s - APART_S);
    const last = this.sticks[this.sticks.length - 1];
    if (last && last.from_s >= from_s) this.sticks.pop();
    this.sticks.push({ ...stick, from_s });
    this.tellUntil(from_s + AHEAD_S);
    return true;
  }

  /** With the stick held, further ahead where the plan is running out. True where there is more to tell. */
  goesOn(time: number): boolean {
    const last = this.sticks[this.sticks.length - 1];
    if (!last || atRest(last) || time < this.takes_s - AHEAD_S / 2 || this.takes_s >= LONGEST_S) return false;
    this.tellUntil(time + AHEAD_S);
    return true;
  }

  private tellUntil(time: number): void {
    this.takes_s = Math.round(Math.min(time, LONGEST_S + AHEAD_S) * 100) / 100;
  }
}
