import Modal from "react-bootstrap/Modal";
import type { Command } from "./commands";

const MORE: [string, string][] = [
  ["Tab", "Next field, handle or button"],
  ["Arrows", "Nudge the focused handle by 1 mm, or a bar by a hundredth of the cycle"],
  ["Shift + arrows", "Nudge by 10 mm, or by a twentieth"],
  ["B, held", "Ghost the last named revision and list what differs"],
  ["Escape", "Stop, or drop what is tried"],
];

export function KeysDialog({ commands, onHide }: { commands: Command[]; onHide: () => void }) {
  const rows = [...commands.filter((c) => c.keys).map((c) => [c.keys!, c.label] as [string, string]), ...MORE];
  return (
    <Modal show onHide={onHide} size="lg" aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title">Keys</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <dl className="keys">
          {rows.map(([keys, label]) => (
            <div key={label}>
              <dt>
                <kbd>{keys}</kbd>
              </dt>
              <dd>{label}</dd>
            </div>
          ))}
        </dl>
        <p className="hint">Off while typing in a field. A decimal comma is understood everywhere.</p>
      </Modal.Body>
    </Modal>
  );
}
