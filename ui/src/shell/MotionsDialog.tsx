import { current } from "immer";
import Modal from "react-bootstrap/Modal";
import { useAtSpeed } from "@/bench/atSpeed";
import { freshMotion, madeOf, removeMotion, renameMotion } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { chooseMotion, edit } from "@/bench/store";
import Button from "@/controls/Button";
import { TextBox } from "@/controls/TextBox";

export function MotionsDialog({ onHide }: { onHide: () => void }) {
  const project = useBench((s) => s.draft);
  const chosen = useBench((s) => s.motion);
  const atSpeed = useAtSpeed();
  if (!project) return null;
  const rename = (index: number, name: string) => {
    if (project.motions.some((m, n) => n !== index && m.name.toLowerCase() === name.toLowerCase())) return;
    const was = project.motions[index].name;
    edit((draft) => {
      renameMotion(draft, was, name);
      if (was === chosen) useBench.setState({ motion: name });
    }, true);
  };
  const copy = (index: number) => {
    const name = freshMotion(project, project.motions[index].name);
    edit((draft) => {
      draft.motions.splice(index + 1, 0, { ...current(draft.motions[index]), name });
    }, true);
    chooseMotion(name);
  };
  const remove = (index: number) => {
    const was = project.motions[index].name;
    const next = project.motions.find((_, n) => n !== index)?.name ?? "";
    edit((draft) => {
      removeMotion(draft, was);
      if (was === chosen) useBench.setState({ motion: next });
    }, true);
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="motions-title">
      <Modal.Header closeButton>
        <Modal.Title id="motions-title">Motions of {project.name}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <ul className="motion-list">
          {project.motions.map((m, index) => (
            <li key={m.name}>
              <div>
                <TextBox label={`Name of motion ${index + 1}`} value={m.name} onValue={(name) => rename(index, name)} />
                {atSpeed[m.name] && <small className="at-speed">{atSpeed[m.name]}</small>}
              </div>
              <Button
                size="sm"
                variant="outline-dark"
                onClick={() => chooseMotion(m.name)}
                disabled={m.name === chosen}
              >
                Open<span className="visually-hidden"> {m.name}</span>
              </Button>
              <Button
                size="sm"
                variant="outline-dark"
                onClick={() => copy(index)}
                disabled={project.motions.length >= 64}
              >
                Copy<span className="visually-hidden"> {m.name}</span>
              </Button>
              <Button
                size="sm"
                variant="outline-dark"
                onClick={() => remove(index)}
                disabled={project.motions.length < 2 || madeOf(project, m.name).length > 0}
                title={madeOf(project, m.name).length ? `${madeOf(project, m.name)[0]} is made of it` : undefined}
              >
                Remove<span className="visually-hidden"> {m.name}</span>
              </Button>
            </li>
          ))}
        </ul>
        <p className="hint">Undo brings a removed motion back.</p>
      </Modal.Body>
    </Modal>
  );
}
