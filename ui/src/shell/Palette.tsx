import { type KeyboardEvent, useState } from "react";
import Modal from "react-bootstrap/Modal";
import type { Command } from "./commands";

export function Palette({ commands, onHide }: { commands: Command[]; onHide: () => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = commands.filter((c) => words.every((w) => c.label.toLowerCase().includes(w))).slice(0, 12);
  const chosen = Math.min(at, found.length - 1);
  const run = (command?: Command) => {
    if (!command) return;
    onHide();
    command.run();
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      setAt((chosen + (event.key === "ArrowDown" ? 1 : found.length - 1)) % Math.max(1, found.length));
    } else if (event.key === "Enter") run(found[chosen]);
  };
  return (
    <Modal show onHide={onHide} aria-label="Find a command">
      <Modal.Body className="palette">
        <input
          className="form-control"
          aria-label="Find a command"
          role="combobox"
          aria-expanded="true"
          aria-controls="palette-list"
          aria-activedescendant={found[chosen] ? `palette-${chosen}` : undefined}
          placeholder="Find a command"
          // biome-ignore lint/a11y/noAutofocus: the dialog opens to be typed into
          autoFocus
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setAt(0);
          }}
          onKeyDown={key}
        />
        <div id="palette-list" role="listbox" aria-label="Commands">
          {found.map((command, n) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field above takes the keys
            <div
              key={command.label}
              id={`palette-${n}`}
              role="option"
              tabIndex={-1}
              aria-selected={n === chosen}
              onClick={() => run(command)}
            >
              {command.label}
              {command.keys && <kbd>{command.keys}</kbd>}
            </div>
          ))}
        </div>
        {found.length === 0 && <p className="hint">No command of that name.</p>}
      </Modal.Body>
    </Modal>
  );
}
