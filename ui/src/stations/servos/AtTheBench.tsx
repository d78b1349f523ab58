/** A step of the set-up as it is done standing: one sentence, one drawing, one number, a few large buttons; at any size of
 * window, and the screen does not sleep. */
import { type ReactNode, useCallback, useEffect, useLayoutEffect } from "react";
import { useNavigate } from "react-router";
import type { Project } from "@/api/client";
import type { Servo } from "./bench";

export interface Answer {
  words: string;
  key: string;
  chosen?: boolean;
  run: () => void;
}

interface Props {
  project: Project;
  sentence: string;
  about: string;
  number: string;
  drawing: ReactNode;
  question: string;
  answers: Answer[];
  onBack: () => void;
  onNext: () => void;
  /** Below the answers. */
  children?: ReactNode;
}

export function AtTheBench(props: Props) {
  const { project, sentence, about, number, drawing, question, answers, onBack, onNext, children } = props;
  const navigate = useNavigate();
  const leave = useCallback(() => {
    const params = new URLSearchParams(window.location.search);
    params.delete("job");
    params.delete("step");
    navigate(`?${params}`);
  }, [navigate]);
  // Heard from the moment it can be read: a key pressed as the screen comes up is not lost.
  useLayoutEffect(() => {
    const press = (event: KeyboardEvent) => {
      const { target } = event;
      if (target instanceof HTMLSelectElement || target instanceof HTMLInputElement) return;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const found = answers.find((a) => a.key.toLowerCase() === event.key.toLowerCase());
      if (!found && (event.key !== " " || target instanceof HTMLButtonElement)) return;
      event.preventDefault();
      event.stopPropagation();
      if (found) found.run();
      else onNext();
    };
    // Before the bench's own keys.
    window.addEventListener("keydown", press, true);
    return () => window.removeEventListener("keydown", press, true);
  }, [answers, onNext]);
  useEffect(() => {
    // A screen that sleeps in mid-check is a hand taken off the stop switch.
    let lock: WakeLockSentinel | null = null;
    void navigator.wakeLock?.request("screen").then(
      (got) => {
        lock = got;
      },
      () => undefined,
    );
    return () => void lock?.release();
  }, []);
  const stop = project.electrics.stop_switch;
  return (
    <div className="at-the-bench">
      <div className="what-to-see">
        <h1>{sentence}</h1>
        <p>{about}</p>
        {drawing}
        <output className="how-far">{number}</output>
        <p>
          Buzzes or grows hot: stop. Fingers clear.{" "}
          {stop ? `Switch: ${stop.where || "within reach"}.` : "No stop switch is declared."}
        </p>
      </div>
      <div className="what-was-seen">
        <h2>{question}</h2>
        {answers.map((a) => (
          <button
            key={a.key}
            type="button"
            className={a.chosen ? "large chosen" : "large"}
            aria-keyshortcuts={a.key}
            onClick={a.run}
          >
            {a.words} <kbd>{a.key}</kbd>
          </button>
        ))}
        {children}
        <div className="pair-of">
          <button type="button" className="large" onClick={onBack}>
            Back
          </button>
          <button type="button" className="large" aria-keyshortcuts="Space" onClick={onNext}>
            Next <kbd>Space</kbd>
          </button>
        </div>
        <button type="button" className="large off" disabled>
          All off: use your switch
        </button>
        <button type="button" className="do" onClick={leave}>
          Back to the bench
        </button>
      </div>
    </div>
  );
}

/** Where a servo is wired and what stands on its case. */
export function whereIs(servo: Servo): string {
  const channel = servo.unit === "count" ? "address" : "channel";
  return `${servo.board ? `${servo.board}, ${channel} ${servo.channel}` : "on no channel yet"} · servo no. ${servo.number}`;
}

/** From the foot up in each limb. */
export function inOrder(servos: Servo[], project: Project): Servo[] {
  const limbs = project.walker.limbs;
  const rank = (s: Servo) => {
    const [limb, joint] = s.joint.split("/");
    const n = limbs.findIndex((l) => l.name === limb);
    return n * 100 - limbs[n].joints.findIndex((j) => j.name === joint);
  };
  return [...servos].sort((a, b) => rank(a) - rank(b));
}
