/** Evaluates drafts as they change: one request in flight, one waiting, the latest wins. */
import type { Project } from "@/api/client";
import { type Drawn, evaluateDraft, type Picture, type Rest } from "@/api/picture";

interface Job {
  project: Project;
  motion: string;
  /** The station that is open, where only what it shows in a drag is asked for. */
  station?: string;
  rest?: Rest | null;
  /** Called with what is drawn, before it is judged. */
  drawn: (drawn: Drawn) => void;
  done: (picture: Picture) => void;
  failed: (error: Error) => void;
}

let running = false;
let waiting: Job | null = null;

export function evaluateLatest(job: Job): void {
  waiting = job;
  if (!running) void run();
}

export function isEvaluating(): boolean {
  return running;
}

async function run(): Promise<void> {
  running = true;
  while (waiting) {
    const job = waiting;
    waiting = null;
    try {
      const picture = await evaluateDraft(job.project, job.motion, job.station, job.rest, job.drawn);
      job.done(picture);
    } catch (error) {
      if (!waiting) job.failed(error as Error);
    }
  }
  running = false;
}
