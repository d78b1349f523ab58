/** A log that was written as CSV, taken in as trials of the revision that is saved. */

import { useState } from "react";
import { fetched } from "@/api/client";
import { inWords } from "@/bench/holding";
import { FileButton } from "@/controls/FileButton";

export function TakeIn({ walker, onTaken }: { walker: number; onTaken: () => Promise<void> }) {
  const [said, setSaid] = useState("");
  const take = async (chosen: File) => {
    try {
      const body = await chosen.arrayBuffer();
      await fetched(`/api/walkers/${walker}/trials.csv`, {
        method: "POST",
        headers: { "Content-Type": "text/csv" },
        body,
      });
      setSaid(`Took in ${chosen.name}.`);
      await onTaken();
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  return (
    <>
      <FileButton label="A log as CSV" accept=".csv" className="link-button" onFile={(chosen) => void take(chosen)}>
        Take in a log
      </FileButton>{" "}
      <span role="status">{said}</span>
    </>
  );
}
