import Modal from "react-bootstrap/Modal";
import type { Project } from "@/api/client";
import { saveDraft } from "@/bench/saver";
import { useBench } from "@/bench/state";
import { evaluate } from "@/bench/store";
import Button from "@/controls/Button";
import { Fields } from "./Fields";

/** Another window saved first: which fields differ, and the two ways on. Nothing is overwritten unseen. */
export function ConflictDialog() {
  const conflict = useBench((s) => s.conflict);
  if (!conflict) return null;
  const goOn = (project: Project, save: boolean) => {
    const names = project.motions.map((m) => m.name);
    const { motion, draft, past } = useBench.getState();
    useBench.setState({
      saved: conflict.saved,
      draft: project,
      motion: names.includes(motion) ? motion : (names[0] ?? ""),
      conflict: null,
      past: draft ? [...past, draft] : past,
      future: [],
      saveState: save ? "unsaved" : "saved",
    });
    evaluate();
    if (save) saveDraft();
  };
  const { merged, saved } = conflict;
  return (
    <Modal show backdrop="static" keyboard={false} size="lg" scrollable aria-labelledby="conflict-title">
      <Modal.Header>
        <Modal.Title id="conflict-title">Another window saved this walker first</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>{conflict.detail} Yours is not saved yet, and nothing is lost.</p>
        {merged ? (
          <>
            <h3>What you changed</h3>
            <Fields fields={merged.mine} before="Was" after="Yours" />
            <h3>What the other window changed</h3>
            <Fields fields={merged.theirs} before="Was" after="Theirs" />
          </>
        ) : (
          <p>The two sets of changes do not fit together, so yours cannot be put on top of theirs.</p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-dark" onClick={() => goOn(saved.project, false)}>
          Keep theirs
        </Button>
        <Button variant="dark" disabled={!merged} autoFocus onClick={() => merged && goOn(merged.project, true)}>
          Make my changes again on theirs
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
