/** Stops stand against what is to be written: which, and whether it is written all the same. */
import Modal from "react-bootstrap/Modal";
import Button from "@/controls/Button";

interface Props {
  lines: string[];
  onAnyway: () => void;
  onHide: () => void;
}

export function AskAnyway({ lines, onAnyway, onHide }: Props) {
  return (
    <Modal show onHide={onHide} aria-labelledby="anyway-title">
      <Modal.Header closeButton>
        <Modal.Title id="anyway-title">This should not be played</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <ul className="plain-list">
          {lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <p className="caution">
          Written all the same, it says so itself where its format has room. A servo that is stalled burns: on a stand,
          feet in the air, a stop switch in reach.
        </p>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-dark" onClick={onAnyway}>
          Write it all the same
        </Button>
        <Button variant="dark" autoFocus onClick={onHide}>
          Leave it
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
