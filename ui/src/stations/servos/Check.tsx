/** The joint check: what must be seen, and what was. */

import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import { download, fetched, type Project, posted } from "@/api/client";
import { inWords } from "@/bench/holding";
import { Choice } from "@/controls/Choice";
import { AtTheBench, inOrder, whereIs } from "./AtTheBench";
import { benchEdit, now, useBenchView } from "./bench";
import { LimbTurned } from "./LimbTurned";

const ANSWERS = [
  { saw: "as_told", words: "As told", key: "A" },
  { saw: "other_way", words: "The other way", key: "W" },
  { saw: "another", words: "Another joint …", key: "J" },
  { saw: "nothing", words: "Nothing moved", key: "N" },
] as const;

type Saw = (typeof ANSWERS)[number]["saw"];

const SAID: Record<string, string> = {
  as_told: "as told",
  other_way: "the other way",
  another: "another joint moved",
  nothing: "nothing moved",
};

export function Check({ project }: { project: Project }) {
  const view = useBenchView(project);
  const servos = view ? inOrder(view.servos, project) : [];
  const [at, setAt] = useState(0);
  const [other, setOther] = useState(false);
  const [said, setSaid] = useState("");
  const servo = servos[Math.min(at, servos.length - 1)];
  if (!servo) return <p className="hint">{view && "This walker has no servos to check."}</p>;
  const step = (by: number) => {
    setOther(false);
    setAt((n) => (n + by + servos.length) % servos.length);
  };
  const answer = async (saw: Saw, instead: string | null = null) => {
    setOther(saw === "another" && instead === null);
    if (saw === "another" && instead === null) return;
    const refused = await benchEdit("seen", { place: servo.place, saw, instead, at: now() });
    if (refused || saw === "as_told") {
      setSaid(refused);
      if (!refused) step(1);
      return;
    }
    setSaid(await benchEdit("mend", { place: servo.place }));
  };
  return (
    <AtTheBench
      project={project}
      drawing={<LimbTurned servo={servo} />}
      sentence={servo.sees}
      about={`${whereIs(servo)} · 3° about its middle, the others off`}
      number={`${servos.indexOf(servo) + 1} of ${servos.length}`}
      question="What did you see?"
      answers={ANSWERS.map((a) => ({
        ...a,
        chosen: servo.saw === a.saw && !servo.mended,
        run: () => void answer(a.saw),
      }))}
      onBack={() => step(-1)}
      onNext={() => step(1)}
    >
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
      <TableOf project={project} limbs={[...new Set(servos.map((s) => s.joint.split("/")[0]))]} said={setSaid} />
    </AtTheBench>
  );
}

function TableOf({ project, limbs, said }: { project: Project; limbs: string[]; said: (words: string) => void }) {
  const formats = useCatalogue()?.formats ?? [];
  const [limb, setLimb] = useState("");
  const [format, setFormat] = useState("c");
  const write = async () => {
    try {
      const body = { project, limb: limb || null, format };
      said(`Wrote ${await download(await fetched("/api/joint-check", posted(body)))}.`);
    } catch (error) {
      said(inWords(error));
    }
  };
  return (
    <div className="table-of">
      <Choice
        label="Table of"
        value={limb}
        none="all limbs"
        choices={limbs.map((l) => ({ name: l, label: l }))}
        onValue={setLimb}
      />
      <Choice quiet label="Format of the check's table" value={format} choices={formats} onValue={setFormat} />
      <button type="button" className="do" onClick={() => void write()}>
        Download
      </button>
    </div>
  );
}
