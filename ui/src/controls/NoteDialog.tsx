/** A walker's own note: the same at the bench and on the shelf. */
import { useState } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import Button from "./Button";

const MOST = 4000;

interface Props {
  name: string;
  note: string;
  onKeep: (text: string) => void;
  onHide: () => void;
}

export function NoteDialog({ name, note, onKeep, onHide }: Props) {
  const [text, setText] = useState(note);
  const keep = () => {
    if (text !== note) onKeep(text);
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
