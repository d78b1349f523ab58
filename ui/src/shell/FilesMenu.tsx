/** What can be taken away of the walker: its file, its models for an engine, its parts list. */

import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import Modal from "react-bootstrap/Modal";
import { download, fetched, type Schemas } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import Button from "@/controls/Button";

type Kind = "file" | "urdf" | "mjcf" | "parts";

const KINDS: [Kind, string][] = [
  ["file", "Save as file"],
  ["urdf", "URDF, for other programs"],
  ["mjcf", "MJCF, for a physics engine"],
  ["parts", "Parts list, CSV"],
];

/** Take one away. Returns what the file could not hold. */
export async function takeAway(kind: Kind): Promise<string[]> {
  const id = useBench.getState().saved?.id;
  const answer = await fetched(`/api/walkers/${id}/${kind}`);
  if (kind !== "urdf" && kind !== "mjcf") {
    await download(answer);
    return [];
  }
  const written = (await answer.json()) as Schemas["Written"];
  const headers = { "Content-Disposition": `attachment; filename="${written.file_name}"` };
  await download(new Response(written.text, { headers }));
  return written.lost;
}

export function FilesMenu() {
  const [said, setSaid] = useState<{ title: string; lines: string[] } | null>(null);
  const take = async (kind: Kind, label: string) => {
    try {
      const lost = await takeAway(kind);
      if (lost.length) setSaid({ title: `${label.split(",")[0]}: written. Not in the file`, lines: lost });
    } catch (error) {
      setSaid({ title: `${label.split(",")[0]}: not written`, lines: [inWords(error)] });
    }
  };
  return (
    <>
      <Dropdown align="end">
        <Dropdown.Toggle variant="light" size="sm" id="files-menu" className="motion-toggle">
          Files
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {KINDS.map(([kind, label]) => (
            <Dropdown.Item key={kind} onClick={() => void take(kind, label)}>
              {label}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
      {said && (
        <Modal show onHide={() => setSaid(null)} aria-labelledby="files-title">
          <Modal.Header closeButton>
            <Modal.Title id="files-title">{said.title}</Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <ul className="plain-list">
              {said.lines.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </Modal.Body>
          <Modal.Footer>
            <Button variant="dark" autoFocus onClick={() => setSaid(null)}>
              Well
            </Button>
          </Modal.Footer>
        </Modal>
      )}
    </>
  );
}
