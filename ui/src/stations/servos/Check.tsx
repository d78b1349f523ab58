/** The joint check at the bench: one drawing, one sentence, one number, four large buttons; to be read from a step away. */
import { useCallback, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { download, fetched, type Project, posted } from "@/api/client";
import { Choice } from "@/controls/Choice";
import { benchEdit, now, type Servo, useBenchView } from "./bench";
import { LimbTurned } from "./LimbTurned";

const ANSWERS = [
  { saw: "as_told", words: "As told", key: "A" },
  { saw: "other_way", words: "The other way", key: "W" },
  { saw: "another", words: "Another joint …", key: "J" },
  { saw: "nothing", words: "Nothing moved", key: "N" },
] as const;

const SAID: Record<string, string> = {
  as_told: "as told",
  other_way: "the other way",
  another: "another joint moved",
  nothing: "nothing moved",
};

/** From the foot up in each limb. */
function inOrder(servos: Servo[], project: Project): Servo[] {
  const limbs = project.walker.limbs;
  const rank = (s: Servo) => {
    const [limb, joint] = s.joint.split("/");
    const n = limbs.findIndex((l) => l.name === limb);
    return n * 100 - limbs[n].joints.findIndex((j) => j.name === joint);
  };
  return [...servos].sort((a, b) => rank(a) - rank(b));
}

export function Check({ project }: { project: Project }) {
  const view = useBenchView(project);
  const servos = view ? inOrder(view.servos, project) : [];
  const [at, setAt] = useState(0);
  const [other, setOther] = useState(false);
  const [said, setSaid] = useState("");
  const navigate = useNavigate();
  const servo = servos[Math.min(at, servos.length - 1)];
  const leave = useCallback(() => {
    const params = new URLSearchParams(window.location.search);
    params.delete("job");
    navigate(`?${params}`);
  }, [navigate]);
  const next = useCallback(() => {
    setOther(false);
    setAt((n) => (servos.length ? (n + 1) % servos.length : 0));
  }, [servos.length]);
  const answer = useCallback(
    async (saw: (typeof ANSWERS)[number]["saw"], instead: string | null = null) => {
      if (!servo) return;
      if (saw === "another" && instead === null) {
        setOther(true);
        return;
      }
      setOther(false);
      const refused = await benchEdit("seen", { place: servo.place, saw, instead, at: now() });
      if (refused || saw === "as_told") {
        setSaid(refused);
        if (!refused) next();
        return;
      }
      setSaid(await benchEdit("mend", { place: servo.place }));
    },
    [servo, next],
  );
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLSelectElement || event.ctrlKey || event.metaKey || event.altKey) return;
      const found = ANSWERS.find((a) => a.key.toLowerCase() === event.key.toLowerCase());
      const onButton = event.target instanceof HTMLButtonElement;
      if (!found && (event.key !== " " || onButton)) return;
      event.preventDefault();
      event.stopPropagation();
      if (found) void answer(found.saw);
      else next();
    };
    // Before the bench's own keys.
    window.addEventListener("keydown", press, true);
    return () => window.removeEventListener("keydown", press, true);
  }, [answer, next]);
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
  const limbs = [...new Set(servos.map((s) => s.joint.split("/")[0]))];
  const [limb, setLimb] = useState("");
  const write = async () => {
    try {
      setSaid(
        `Wrote ${await download(await fetched("/api/joint-check", posted({ project, limb: limb || null, format: "c" })))}.`,
      );
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  if (!servo) return <p className="hint">This walker has no servos to check.</p>;
  const number = servos.indexOf(servo) + 1;
  const where = servo.board
    ? `${servo.board}, ${servo.unit === "count" ? "address" : "channel"} ${servo.channel}`
    : "on no channel yet";
  const switched = project.electrics.stop_switch;
  return (
    <div className="at-the-bench">
      <div className="what-to-see">
        <h1>{servo.sees}</h1>
        <p>
          {where} · servo no. {servo.number} · 3° about its middle, the others off
        </p>
        <LimbTurned servo={servo} />
        <output className="how-far">
          {number} of {servos.length}
        </output>
        <p>
          Buzzes or grows hot: stop. Fingers clear.{" "}
          {switched ? `Switch: ${switched.where || "within reach"}.` : "No stop switch is declared."}
        </p>
      </div>
      <div className="what-was-seen">
        <h2>What did you see?</h2>
        {ANSWERS.map((a) => (
          <button
            key={a.saw}
            type="button"
            className={servo.saw === a.saw && !servo.mended ? "large chosen" : "large"}
            aria-keyshortcuts={a.key}
            onClick={() => void answer(a.saw)}
          >
            {a.words} <kbd>{a.key}</kbd>
          </button>
        ))}
        {other && (
          <Choice
            label="Which one moved"
            value=""
            none="choose …"
            choices={servos.filter((s) => s !== servo).map((s) => ({ name: s.place, label: s.place }))}
            onValue={(place) => void answer("another", place)}
          />
        )}
        <p className="was-seen" role="status">
          {said}
          {!said && servo.saw && (
            <>
              {servo.place}: <b>{SAID[servo.saw]}</b>
              {servo.mended && ", set right; look once more"} <small>{servo.seen_on}</small>{" "}
              <button
                type="button"
                className="link-button"
                onClick={() => void benchEdit("forget", { place: servo.place })}
              >
                Take it back
              </button>
            </>
          )}
        </p>
        <div className="pair-of">
          <button type="button" className="large" onClick={() => setAt((n) => (n + servos.length - 1) % servos.length)}>
            Back
          </button>
          <button type="button" className="large" aria-keyshortcuts="Space" onClick={next}>
            Next <kbd>Space</kbd>
          </button>
        </div>
        <div className="pair-of">
          <Choice
            label="Table of"
            value={limb}
            none="all limbs"
            choices={limbs.map((l) => ({ name: l, label: l }))}
            onValue={setLimb}
          />
          <button type="button" className="do" onClick={() => void write()}>
            Download
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
