/** The walker's own note, as it stands on the shelf too. */
import { useState } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import Button from "@/controls/Button";

const MOST = 4000;

export function NoteDialog({ onHide }: { onHide: () => void }) {
  const note = useBench((s) => s.draft?.note ?? "");
  const name = useBench((s) => s.draft?.name ?? "");
  const [text, setText] = useState(note);
  const keep = () => {
    if (text !== note)
      edit((draft) => {
        draft.note = text;
      }, true);
    onHide();
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="note-title">
      <Modal.Header closeButton>
        <Modal.Title id="note-title">Note on {name}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Control
          as="textarea"
          rows={7}
          maxLength={MOST}
          aria-label={`Note on ${name}`}
          value={text}
          autoFocus
          onChange={(event) => setText(event.target.value)}
        />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-dark" onClick={onHide}>
          Leave it
        </Button>
        <Button variant="dark" onClick={keep}>
          Keep the note
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
