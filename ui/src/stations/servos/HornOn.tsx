/** Horns put on, one after another: the tooth, what it leaves over, and what was done. */
import { useState } from "react";
import type { Project } from "@/api/client";
import { shown } from "@/look/number";
import { AtTheBench, inOrder, whereIs } from "./AtTheBench";
import { benchEdit, putFitted, teethFrom, useBenchView } from "./bench";
import { LimbTurned } from "./LimbTurned";

export function HornOn({ project }: { project: Project }) {
  const view = useBenchView(project);
  const servos = view ? inOrder(view.servos, project) : [];
  const [at, setAt] = useState(0);
  const [said, setSaid] = useState("");
  const servo = servos[Math.min(at, servos.length - 1)];
  if (!servo) return <p className="hint">{view && "This walker has no servos."}</p>;
  const step = (by: number) => {
    setSaid("");
    setAt((n) => (n + by + servos.length) % servos.length);
  };
  const pitch = servo.teeth ? 360 / servo.teeth : null;
  const off = (by: number) => {
    if (servo.tooth === null || servo.left_deg === null || pitch === null) return;
    const [tooth, left] = [servo.tooth + by, servo.left_deg - by * pitch];
    putFitted(servo.place, (entry) => {
      entry.tooth = tooth;
      entry.tooth_left_deg = Math.round(left * 1000) / 1000;
    });
    setSaid(`${servo.place} sits ${teethFrom(tooth)}; ${shown(left, 1)}° are left over.`);
  };
  const on = async () => {
    const refused = await benchEdit("teeth", { place: servo.place });
    if (refused) setSaid(refused);
    else step(1);
  };
  return (
    <AtTheBench
      project={project}
      drawing={<LimbTurned servo={servo} still />}
      sentence={`${servo.place}: joint at ${shown(servo.at_deg, 0)}°`}
      about={`${whereIs(servo)} · centred, power off${servo.left_deg === null ? "" : `, ${shown(servo.left_deg, 1)}° left over`}`}
      number={servo.tooth === null ? "no spline on its sheet" : teethFrom(servo.tooth)}
      question="How does it sit?"
      answers={[
        { words: "On that tooth", key: "A", run: () => void on() },
        { words: "One tooth on", key: "O", run: () => off(1) },
        { words: "One tooth back", key: "K", run: () => off(-1) },
      ]}
      onBack={() => step(-1)}
      onNext={() => step(1)}
    >
      <p className="was-seen" role="status">
        {said}
      </p>
    </AtTheBench>
  );
}
