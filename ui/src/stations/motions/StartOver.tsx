/** The walks of a machine from the machine alone, in place of all it has. */
import { Fragment } from "react";
import type { Project, Schemas } from "@/api/client";
import { inColumn } from "@/look/dryRun";
import { shown, withUnit } from "@/look/number";
import { FoundWalks } from "./FoundWalks";

type Walk = Schemas["FreshWalk"];

export function StartOver({ project }: { project: Project }) {
  return (
    <>
      <p className="hint">
        Walks made from the machine alone, whatever it has. Two legs walk by their timing, as soles and ankles let them;
        more legs by the gait such machines begin with, four trot besides, as quickly as goes well in a dry run; feet
        that cannot but slide crawl. The walk ahead gets its start and its stop, and so does each whose legs step in
        another order. Where it walks at no stride as it stands, it stands higher or lower. What walks by its timing is
        held against its sag, as Load says.
      </p>
      <FoundWalks<Schemas["FreshSet"]>
        project={project}
        path="/api/fresh-set"
        kind="fresh_set"
        body={{}}
        find="Find its walks"
        columns={["Motion", "A cycle goes", "Takes", "Dry run"]}
        rows={(view) => view.made.map((walk) => <Row key={walk.name} walk={walk} />)}
        warning={
          project.motions.length === 1
            ? "The motion it has now is replaced, and what names it goes."
            : `All ${project.motions.length} motions it has now are replaced, and what names them goes.`
        }
        keep="Keep these walks"
        kept="Kept. Undo brings the others back."
      />
    </>
  );
}

function Row({ walk }: { walk: Walk }) {
  const why = walk.against ?? (walk.unjudged ? `not judged: ${walk.unjudged}` : null);
  return (
    <Fragment>
      <tr>
        <th scope="row">
          <i
            className={`mark ${walk.severity ?? (walk.run?.goes_badly ? "warn" : walk.unjudged ? "open" : "well")}`}
            aria-hidden="true"
          />{" "}
          {walk.name}
        </th>
        <td>{wayOf(walk)}</td>
        <td>{shown(walk.cycle_s, 2)} s</td>
        <td className="went">{inColumn(walk.run)}</td>
      </tr>
      {why && (
        <tr className="why">
          <td colSpan={4}>{why}</td>
        </tr>
      )}
    </Fragment>
  );
}

/** What a cycle brings it on: nothing of what stands, or has an end. */
function wayOf(walk: Walk): string {
  const parts = [];
  if (walk.stride_mm && walk.stride_mm >= 1) parts.push(withUnit(walk.stride_mm, "mm"));
  if (walk.turn_deg && Math.abs(walk.turn_deg) >= 0.5) parts.push(`${shown(walk.turn_deg, 1)}°`);
  return parts.join(", ");
}
