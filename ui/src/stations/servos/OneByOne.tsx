/** Any step of the evening at the bench, one thing at a time; where one was is kept, so that it is gone on with later. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { client, type Project, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";
import { NumberBox } from "@/controls/NumberBox";
import { shown } from "@/look/number";
import { type Answer, AtTheBench } from "./AtTheBench";
import { type BenchView, benchEdit, now, useBenchView } from "./bench";
import { Check } from "./Check";
import { HornOn } from "./HornOn";
import { LimbTurned } from "./LimbTurned";
import { Plug } from "./Plug";
import { PoseSeen } from "./PoseSeen";
import { SupplyLine } from "./SupplyLine";

type Card = Schemas["Card"];

export function OneByOne({ project }: { project: Project }) {
  const view = useBenchView(project);
  const [params] = useSearchParams();
  const asked = params.get("step");
  if (!view) return null;
  const step = view.steps.find((s) => s.name === asked) ?? view.steps.find((s) => !s.done) ?? view.steps[0];
  if (step.name === "horn") return <HornOn project={project} />;
  if (step.name === "way") return <Check project={project} />;
  return <Cards key={step.name} project={project} view={view} step={step} />;
}

function Cards({ project, view, step }: { project: Project; view: BenchView; step: BenchView["steps"][number] }) {
  const walker = useBench((s) => s.saved?.id ?? 0);
  const kept = `bustle.evening.${walker}.${step.name}`;
  const [at, setAt] = useState(() => Number(window.localStorage.getItem(kept) ?? 0));
  const [said, setSaid] = useState("");
  const [typing, setTyping] = useState(false);
  const { data } = useQuery({
    queryKey: ["cards", step.name, project.walker, project.electrics, project.motions, project.servo_types],
    queryFn: () => told<Schemas["Cards"]>(client.POST("/api/bench/cards", { body: { project, step: step.name } })),
    placeholderData: (before) => before,
    gcTime: 30_000,
    retry: false,
  });
  const cards = data?.cards ?? [];
  useEffect(() => window.localStorage.setItem(kept, String(at)), [kept, at]);
  if (!data) return null;
  if (!cards.length) return <p className="hint">There is nothing to do in this step yet: {step.how}</p>;
  const n = Math.min(at, cards.length - 1);
  const card = cards[n];
  const go = (by: number) => {
    setSaid("");
    setTyping(false);
    setAt((n + by + cards.length) % cards.length);
  };
  const done = async () => {
    if (n < cards.length - 1) return go(1);
    if (!step.done && !step.left) await benchEdit("step", { step: step.name });
    setSaid(step.left ? `The last one. Still open: ${step.left}.` : `${step.label}: done.`);
  };
  const read = async (value: number) => {
    const words =
      card.asks === "height_mm"
        ? await benchEdit("height", { limb: card.limb, read: value })
        : await benchEdit("reading", { place: card.place, told: card.told, read: value, at: now() });
    setTyping(false);
    setSaid(words);
    if (card.asks === "height_mm" && !words) void done();
  };
  const answers: Answer[] = card.asks
    ? [
        ...(card.usual === null
          ? []
          : [
              {
                words: `Reads ${shown(card.usual, card.asks === "height_mm" ? 1 : 0)} ${unitOf(card)}`.replace(
                  " °",
                  "°",
                ),
                key: "A",
                run: () => void read(card.usual ?? 0),
              },
            ]),
        { words: "Reads another …", key: "J", chosen: typing, run: () => setTyping(!typing) },
        { words: "Leave it out", key: "N", run: () => go(1) },
      ]
    : [
        { words: "Done", key: "A", run: () => void done() },
        { words: "Not right: later", key: "N", run: () => go(1) },
      ];
  return (
    <AtTheBench
      project={project}
      sentence={card.sentence}
      about={card.about}
      number={card.number}
      drawing={<Drawing card={card} project={project} view={view} step={step.name} />}
      question={`${step.label}, ${n + 1} of ${cards.length}`}
      answers={answers}
      onBack={() => go(-1)}
      onNext={() => go(1)}
    >
      {typing && card.asks && (
        <NumberBox
          label="It reads"
          value={card.usual ?? 0}
          unit={unitOf(card)}
          step={card.asks === "height_mm" ? 0.5 : 1}
          min={-3600}
          max={3600}
          onValue={(value) => void read(value)}
        />
      )}
      <p className="was-seen" role="status">
        {said}
      </p>
    </AtTheBench>
  );
}

function unitOf(card: Card): string {
  return card.asks === "height_mm" ? "mm" : "°";
}

/** What the card is about: the plug on its board, the part of the supply, the servo's limb, the pose. */
function Drawing({ card, project, view, step }: { card: Card; project: Project; view: BenchView; step: string }) {
  const own = view.servos.filter((s) => s.place === card.place || (card.limb && s.joint.startsWith(`${card.limb}/`)));
  const servo = own.find((s) => s.view !== "plan") ?? own[0];
  const board = view.boards.find((b) => b.name === servo?.board);
  if (card.part) return <SupplyLine part={card.part} />;
  if (step === "map" && servo && board) return <Plug board={board} channel={servo.channel ?? 0} />;
  if (servo) return <LimbTurned servo={servo} still />;
  return <PoseSeen project={project} motion={card.motion} folded={card.number.endsWith("mm")} />;
}
