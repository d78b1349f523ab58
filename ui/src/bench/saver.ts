/** Saves the draft as a revision when the hand lets go: one save at a time, the newest draft last. */
import { fetched, Refusal, type SavedWalker } from "@/api/client";
import { type Conflict, useBench } from "./state";

let saving = false;
let again = false;

export function saveDraft(): void {
  if (saving) {
    again = true;
    return;
  }
  void save();
}

async function save(): Promise<void> {
  const { saved, draft, conflict } = useBench.getState();
  if (!saved || !draft || conflict) return;
  saving = true;
  again = false;
  useBench.setState({ saveState: "saving", saveError: null });
  try {
    const response = await fetched(`/api/walkers/${saved.id}/revisions`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ parent: saved.number, project: draft }),
      keepalive: JSON.stringify(draft).length < 60_000,
    });
    const fresh = (await response.json()) as SavedWalker;
    if (useBench.getState().saved?.id === saved.id) {
      const same = useBench.getState().draft === draft;
      useBench.setState({ saved: fresh, saveState: same ? "saved" : "unsaved", saveError: null });
    }
  } catch (error) {
    if (error instanceof Refusal && error.status === 409) {
      useBench.setState({ conflict: error.body as unknown as Conflict, saveState: "failed" });
    } else if (error instanceof Refusal && error.status === 422) {
      // The evaluation of the same draft takes back what is refused, and saves what is left.
      useBench.setState({ saveState: "unsaved" });
    } else {
      useBench.setState({ saveState: "failed", saveError: (error as Error).message });
    }
    again = false;
  }
  saving = false;
  if (again) void save();
}
