import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import { fetched, type Motion, type Project, posted, type Schemas } from "@/api/client";
import { legsOf, setPhase } from "@/bench/edits";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { chooseMotion, edit, editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { JobLinks } from "@/controls/JobLinks";
import { LeverSlider } from "@/controls/LeverSlider";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { Arms } from "./Arms";
import { HeldLegs, holdLeg } from "./HeldLegs";
import { Pauses, PrintContacts, StripWays, Together } from "./Strip";

/** A pose stays what it is: the walk chosen in it is one more motion, which stands as the pose does. */
function walkLike(stand: Motion, gait: string): void {
  const taken = new Set(useBench.getState().draft?.motions?.map((m) => m.name.toLowerCase()));
  const plain = `${gait[0].toUpperCase()}${gait.slice(1)}`;
  let name = plain;
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${plain} ${n}`;
  edit((draft) => {
    draft.motions?.push({ ...structuredClone(stand), name });
  }, true);
  chooseMotion(name);
}

async function takeGait(project: Project, motion: Motion, gait: string, refused: (why: string) => void): Promise<void> {
  refused("");
  try {
    const legs = motion.legs.map((leg) => leg.limb);
    const answer = await fetched("/api/phases", posted({ project, gait, legs }));
    const found = (await answer.json()) as Schemas["Phases"];
    const stands = motion.legs.every((leg) => leg.duty === 1);
    if (stands) walkLike(motion, found.gait);
    editMotion((m, draft) => {
      // A walk of the same kind keeps its duty; one that lives by its timing has no use for a sway that it has not.
      const other = m.balance !== found.balance;
      m.gait = found.gait;
      m.balance = found.balance;
      if (other && found.balance === "dynamic") m.pose.sway = [];
      const own = legsOf(draft).filter((limb) => legs.includes(limb.name));
      for (const [n, limb] of own.entries()) {
        const leg = m.legs.find((l) => l.limb === limb.name);
        if (leg) {
          leg.phase = found.phases[n];
          if (other || leg.duty === 1) leg.duty = found.duty;
        }
      }
    }, true);
  } catch (error) {
    // The draft is as it was: nothing is to be undone.
    refused(inWords(error));
  }
}

export function TimingControls({ project, motion }: { project: Project; motion: Motion }) {
  const [refused, setRefused] = useState("");
  const legs = motion.legs.length;
  const gaits = useCatalogue()?.gaits.filter((g) => g.legs === legs) ?? [];
  const chosen = gaits.find((g) => g.name === motion.gait);
  return (
    <>
      <Choice
        label="Gait"
        value={motion.gait}
        onValue={(name) => void takeGait(project, motion, name, setRefused)}
        describedBy="gait-about"
        choices={chosen ? gaits : [{ name: motion.gait, label: "Own timing" }, ...gaits]}
      />
      <p className="hint" id="gait-about">
        {chosen?.about ?? "Phases set by hand."}
      </p>
      <Refused why={refused} />
      <LeverSlider lever="duty" />
      <LeverSlider lever="cycle" />
      <fieldset className="phase-table">
        <legend>Each leg, shares of the cycle</legend>
        <span className="head" aria-hidden="true">
          <span>Leg</span>
          <span>touches down (phase)</span>
          <span>on the floor (duty)</span>
          <span>takes part</span>
        </span>
        {motion.legs.map((leg) => (
          <div key={leg.limb} className="phase-row">
            <span>{leg.limb}</span>
            <NumberBox
              quiet
              label={`${leg.limb} phase`}
              value={Math.round(leg.phase * 1000) / 1000}
              unit=""
              step={0.01}
              min={0}
              max={0.999}
              onValue={(v) => editMotion((m) => setPhase(m, leg.limb, v), true)}
            />
            <NumberBox
              quiet
              label={`${leg.limb} duty`}
              value={Math.round(leg.duty * 1000) / 1000}
              unit=""
              step={0.01}
              min={0.05}
              max={0.99}
              onValue={(v) =>
                editMotion((m) => {
                  const found = m.legs.find((l) => l.limb === leg.limb);
                  if (found) found.duty = v;
                }, true)
              }
            />
            <button
              type="button"
              className="do"
              disabled={motion.legs.length < 2}
              aria-label={`Hold ${leg.limb}`}
              onClick={() => edit((draft) => holdLeg(draft, motion.name, leg.limb), true)}
            >
              Hold
            </button>
          </div>
        ))}
      </fieldset>
      <HeldLegs project={project} motion={motion} />
      <Figures at="timing" />
      <Together project={project} />
      <StripWays motion={motion} />
      <Pauses motion={motion} />
      <Arms project={project} motion={motion} />
      <JobLinks jobs={[{ name: "next-leg", label: "Which leg next" }]} />
      <PrintContacts project={project} motion={motion} />
    </>
  );
}
