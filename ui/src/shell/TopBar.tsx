import Dropdown from "react-bootstrap/Dropdown";
import { Link } from "react-router";
import type { Project } from "@/api/client";
import { useAtSpeed } from "@/bench/atSpeed";
import { saveDraft } from "@/bench/saver";
import { useBench } from "@/bench/state";
import { chooseMotion, edit, redo, undo } from "@/bench/store";
import { TextBox } from "@/controls/TextBox";
import type { DialogName } from "./commands";
import { FilesMenu } from "./FilesMenu";

interface Props {
  project: Project;
  onOpen: (dialog: DialogName) => void;
}

export function TopBar({ project, onOpen }: Props) {
  const motion = useBench((s) => s.motion);
  const atSpeed = useAtSpeed();
  const past = useBench((s) => s.past.length);
  const future = useBench((s) => s.future.length);
  return (
    <header className="top-bar">
      <Link to="/" className="brand" title="To the shelf">
        Bustle
      </Link>
      <TextBox
        className="walker-name"
        label="Walker's name"
        value={project.name}
        onValue={(name) =>
          edit((draft) => {
            draft.name = name;
          }, true)
        }
      />
      <Dropdown>
        <Dropdown.Toggle variant="light" size="sm" id="motion-menu" className="motion-toggle">
          <span className="visually-hidden">Motion: </span>
          {motion || "No motion"}
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {project.motions.map((m) => (
            <Dropdown.Item key={m.name} active={m.name === motion} onClick={() => chooseMotion(m.name)}>
              {m.name}
              {atSpeed[m.name] && <small className="at-speed"> {atSpeed[m.name]}</small>}
            </Dropdown.Item>
          ))}
          <Dropdown.Divider />
          <Dropdown.Item onClick={() => onOpen("motions")}>Rename, copy, remove …</Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <div className="top-right">
        <SaveState onOpen={onOpen} />
        <button type="button" onClick={() => onOpen("note")} title={project.note || "Nothing noted yet"}>
          Note
        </button>
        <FilesMenu />
        <button type="button" onClick={undo} disabled={past === 0} title="Ctrl Z">
          Undo
        </button>
        <button type="button" onClick={redo} disabled={future === 0} title="Ctrl Y">
          Redo
        </button>
        <button type="button" onClick={() => onOpen("palette")} title="Ctrl K">
          Find
        </button>
        <button type="button" onClick={() => onOpen("keys")} title="?">
          Keys
        </button>
      </div>
    </header>
  );
}

function SaveState({ onOpen }: { onOpen: Props["onOpen"] }) {
  const state = useBench((s) => s.saveState);
  const error = useBench((s) => s.saveError);
  const saved = useBench((s) => s.saved);
  const dragging = useBench((s) => s.dragging);
  if (state === "failed") {
    return (
      <span className="save-failed" role="alert">
        <span title={error ?? undefined}>not saved: {error}</span>
        <button type="button" onClick={saveDraft}>
          Save again
        </button>
      </span>
    );
  }
  const words = state === "saving" ? "saving …" : state === "unsaved" || dragging ? "draft" : "saved";
  const line = `${words}, revision ${saved?.number}${saved?.name ? ` “${saved.name}”` : ""}`;
  return (
    <>
      <button type="button" onClick={() => onOpen("revisions")} title="Revisions: name, compare, return to">
        {line}
      </button>
      <span className="visually-hidden" role="status">
        {words === "saved" && line}
      </span>
    </>
  );
}
