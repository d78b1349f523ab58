import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Modal from "react-bootstrap/Modal";
import { client, type SavedWalker, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import Button from "@/controls/Button";
import { isoTime } from "@/look/number";
import { Fields } from "./Fields";

/** Every save of this walker: name one, see what differs from now, go back to it. */
export function RevisionsDialog({ onHide }: { onHide: () => void }) {
  const saved = useBench((s) => s.saved)!;
  const [chosen, setChosen] = useState<number | null>(null);
  const queries = useQueryClient();
  const path = { walker_id: saved.id };
  const list = useQuery({
    queryKey: ["revisions", saved.id, saved.number],
    queryFn: () => told<Schemas["Revisions"]>(client.GET("/api/walkers/{walker_id}/revisions", { params: { path } })),
  });
  const differences = useQuery({
    queryKey: ["differences", saved.id, chosen, saved.number],
    queryFn: () =>
      told<Schemas["Differences"]>(
        client.GET("/api/walkers/{walker_id}/revisions/{number}/differences", {
          params: { path: { ...path, number: chosen! }, query: { to: saved.number } },
        }),
      ),
    enabled: chosen !== null,
  });
  const put = async (number: number, body: Schemas["NameRevision"]) => {
    const params = { path: { ...path, number } };
    await told<void>(client.PUT("/api/walkers/{walker_id}/revisions/{number}/name", { params, body }));
    await queries.invalidateQueries({ queryKey: ["revisions", saved.id] });
    if (number === saved.number) useBench.setState({ saved: { ...saved, name: body.name } });
  };
  const goBack = async (number: number) => {
    const revision = await told<SavedWalker>(
      client.GET("/api/walkers/{walker_id}/revisions/{number}", { params: { path: { ...path, number } } }),
    );
    const motions = revision.project.motions.map((m) => m.name);
    const motion = useBench.getState().motion;
    replaceDraft(revision.project, motions.includes(motion) ? undefined : (motions[0] ?? ""));
    onHide();
  };
  return (
    <Modal show onHide={onHide} size="lg" scrollable aria-labelledby="revisions-title">
      <Modal.Header closeButton>
        <Modal.Title id="revisions-title">Revisions</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {list.error && <p role="alert">{list.error.message}</p>}
        <ol className="revision-list">
          {list.data?.revisions.map((r) => (
            <li key={r.number} className={r.number === chosen ? "chosen" : undefined}>
              <div className="revision-line">
                <b>{r.number}</b>
                <LineField
                  label={`Name of revision ${r.number}`}
                  hint="name it"
                  value={r.name ?? ""}
                  most={60}
                  onText={(text) => void put(r.number, { name: text.trim() || null, note: null })}
                />
                <LineField
                  label={`Note on revision ${r.number}`}
                  hint="note what changed"
                  value={r.note}
                  most={200}
                  onText={(text) => void put(r.number, { name: r.name, note: text.trim() })}
                />
                <small>
                  {isoTime(r.created_at)} <code>{r.hash.slice(0, 8)}</code>
                </small>
                {r.number === saved.number ? (
                  <span className="now">now</span>
                ) : (
                  <>
                    <Button
                      size="sm"
                      variant="outline-dark"
                      aria-expanded={r.number === chosen}
                      onClick={() => setChosen(r.number === chosen ? null : r.number)}
                    >
                      Compare<span className="visually-hidden"> revision {r.number} with now</span>
                    </Button>
                    <Button size="sm" variant="outline-dark" onClick={() => void goBack(r.number)}>
                      Return to it<span className="visually-hidden"> revision {r.number}</span>
                    </Button>
                  </>
                )}
              </div>
              {r.number === chosen && differences.data && (
                <Fields fields={differences.data.differences} before={`Revision ${r.number}`} after="Now" />
              )}
            </li>
          ))}
        </ol>
      </Modal.Body>
    </Modal>
  );
}

interface LineProps {
  label: string;
  hint: string;
  value: string;
  most: number;
  onText: (text: string) => void;
}

function LineField({ label, hint, value, most, onText }: LineProps) {
  const [text, setText] = useState(value);
  return (
    <input
      className="text-box"
      aria-label={label}
      placeholder={hint}
      maxLength={most}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => text.trim() !== value && onText(text)}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
